/** Why a file could not be used. Stable: the interface and tests lean on them. */
export type MediaErrorCode =
  | 'empty_file'
  | 'a_drawing'
  | 'too_large'
  | 'not_a_video'
  | 'names_other_files'
  | 'no_picture'
  | 'cut_short'
  | 'too_many_pixels'
  | 'too_many_frames'
  | 'too_slow'
  | 'decoder_failed'
  | 'decoder_missing';

/** `message` is a sentence for a person: what is wrong with which file, and what to do. */
export class MediaError extends Error {
  override readonly name = 'MediaError';

  constructor(
    readonly code: MediaErrorCode,
    message: string,
  ) {
    super(message);
  }
}
