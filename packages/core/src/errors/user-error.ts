/** What a person can be told was wrong. Stable: interface, programs and tests lean on these. */
export const USER_ERROR_CODES = [
  // What a recipe asks for.
  ...(['span_outside', 'no_frame_left', 'reel_too_long', 'pace_impossible', 'own_loop_outside'] as const),
  ...(['span_too_short', 'scene_is_cut'] as const),
  // What is laid over pictures.
  ...(['bad_colour_table', 'bad_font', 'bad_drawing', 'bad_subtitles'] as const),
  ...([
    'not-a-recipe',
    'too-new',
    'invalid',
    'paint_gone',
    'no_drawing',
    'nothing_moves',
    'file_not_here',
    'frame_unreadable',
    'no_such_place',
    'nothing_held',
    'too_heavy',
    'reel_too_slow',
  ] as const),
  // Files that are brought in.
  ...(['empty_file', 'a_drawing', 'too_large', 'not_a_video', 'names_other_files', 'no_picture'] as const),
  ...(['cut_short', 'too_many_pixels', 'too_many_frames', 'too_slow', 'decoder_failed'] as const),
  ...(['decoder_missing', 'not_a_picture', 'not_a_png', 'broken_off'] as const),
  // Files that are made.
  ...(['kind_cannot_hold', 'encoder_missing', 'encoder_failed'] as const),
  // What is asked of the server.
  ...(['not_found', 'not_yet', 'not_finished', 'no_such_frame', 'file_gone', 'file_damaged'] as const),
  ...(['layer_gone', 'layers_missing', 'stale', 'out_of_range', 'request_refused', 'wrong_type'] as const),
  ...([
    'no_body',
    'body',
    'no_token',
    'unknown_host',
    'foreign_page',
    'disk_full',
    'closing',
    'internal',
  ] as const),
  ...(['unreachable', 'unknown'] as const),
  // What is asked of the command line, and what keeps the server from starting.
  ...(['bad_flag', 'cannot_start'] as const),
] as const;

export type UserErrorCode = (typeof USER_ERROR_CODES)[number];

/** Said of everything that nobody foresaw; what it was stands in the log. */
export const WENT_WRONG = 'Something went wrong here. Try it again; nothing was lost.';

/**
 * The one error that people are shown. `message` is a sentence: what is wrong with which thing, and what to
 * do.
 */
export class UserError extends Error {
  override readonly name: string = 'UserError';

  constructor(
    readonly code: UserErrorCode,
    message: string,
  ) {
    super(message);
  }
}

/** What a person is shown of an error. @param log takes what was not meant for people. */
export function sentenceOf(error: unknown, log: (error: unknown) => void): string {
  if (error instanceof UserError) return error.message;
  log(error);
  return WENT_WRONG;
}
