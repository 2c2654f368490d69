import { UserError } from '../errors/index.js';
import {
  type DelayClock,
  type FrameRate,
  type FrameTimes,
  LONGEST_DELAY_CS,
  makeReel,
  type Reel,
  type ReelFrame,
  type Span,
} from '../timing/index.js';
import { type AnyJoin, JOINS, type JoinKind, type JoinSettings, joinOf, PLAIN_CUT } from './joins/index.js';
import { type EditedReel, editReel, type ReelEdit, type ReelItem } from './reel-edits.js';

/** Frames a reel can have, repeats included. */
export const MOST_REEL_FRAMES = 3000;

/** The name of the weave of the whole reel. */
export const REEL_WEAVE = 'reel';

/** Everything that turns a span into a loop. */
export interface LoopSettings {
  readonly join: JoinSettings;
  /** The span's length divided by the reel's, 0.01–100. */
  readonly speed: number;
  readonly reverse: boolean;
  /** Whether pictures are made between frames of the take where the reel falls between them. */
  readonly smooth: boolean;
  /** How much longer the first frame is shown, centiseconds. */
  readonly restStartCs: number;
  /** How much longer the last frame is shown; of there and back, the frame where it turns. */
  readonly restEndCs: number;
  /** How often everything stands in the file one after the other, for video. */
  readonly repeats: number;
  readonly edits: readonly ReelEdit[];
}

export const PLAIN_LOOP: LoopSettings = {
  join: PLAIN_CUT,
  speed: 1,
  reverse: false,
  smooth: false,
  restStartCs: 0,
  restEndCs: 0,
  repeats: 1,
  edits: [],
};

/** The reel of a loop, and what became of the settings. */
export interface LoopReel {
  /** Everything that is shown, in order. */
  readonly reel: Reel;
  /** The way there, frame by frame, as it can be edited; the way back follows it in the reel. */
  readonly items: readonly ReelItem[];
  /** Frames of one round: the items, and the way back. */
  readonly round: number;
  /** Frames that are mixed at the joint. */
  readonly melted: number;
  /** The most frames that the length of each join could be here. */
  readonly longest: Readonly<Record<JoinKind, number>>;
  /** Edits whose frames are not there any more, by their places in the list. */
  readonly lost: readonly number[];
}

/**
 * Span to reel, in this order: pace, join, edits by hand, rests, the way back, repeats.
 * @param clock how finely the file counts time; whole centiseconds where not given.
 * @throws UserError when no frame is left, or there are more than MOST_REEL_FRAMES.
 */
export function makeLoop(
  times: FrameTimes,
  span: Span,
  rate: FrameRate,
  every: number,
  settings: LoopSettings,
  clock?: DelayClock,
): LoopReel {
  const { join, speed, reverse, edits, repeats } = settings;
  const closing = joinOf(join);
  const timed = closing.round?.(join, span) ?? span;
  // What is woven goes from frame to frame of the take.
  const isSmooth = settings.smooth && !closing.woven?.(join);
  const smooth = isSmooth ? { after: followingFrame(times, timed, closing) } : undefined;
  const base = makeReel(times, timed, rate, { every, speed, reverse, clock, smooth });
  const context = { times, span, reverse, isSmooth, weave: REEL_WEAVE };
  const longest = Object.fromEntries(JOINS.map((one) => [one.kind, one.longest(base, context)])) as Record<
    JoinKind,
    number
  >;
  const edited = editReel(closing.apply(base, join, context), timed, edits);
  const items = rested(edited, settings);
  const round: Reel = [...items, ...closing.back(items)].map(reelFrameOf);
  if (round.length * repeats > MOST_REEL_FRAMES) {
    throw new UserError(
      'reel_too_long',
      `The reel has ${round.length * repeats} frames; ${MOST_REEL_FRAMES} are the most. Lower the frame rate, shorten the span or repeat it less often.`,
    );
  }
  return {
    reel: Array.from({ length: repeats }, () => round).flat(),
    items,
    round: round.length,
    melted: Math.min(closing.framesOf(join), longest[join.kind]),
    longest,
    lost: edited.lost,
  };
}

/** The frame that the last one of a span is on its way to; null where it stays. */
function followingFrame(
  times: FrameTimes,
  { start, end }: Span,
  { follows }: Pick<AnyJoin, 'follows'>,
): number | null {
  if (follows === 'first') return start;
  return follows === 'next' && end < times.starts.length ? end : null;
}

function rested({ items }: EditedReel, { restStartCs, restEndCs }: LoopSettings): readonly ReelItem[] {
  const last = items.length - 1;
  return items.map((item, i) => {
    const delayCs = item.delayCs + (i === 0 ? restStartCs : 0) + (i === last ? restEndCs : 0);
    return { ...item, delayCs: Math.min(LONGEST_DELAY_CS, delayCs) };
  });
}

function reelFrameOf({ source, toward, delayCs, blend, woven }: ReelItem): ReelFrame {
  return {
    source,
    delayCs,
    ...(toward && { toward }),
    ...(blend && { blend }),
    ...(woven !== undefined && { woven }),
  };
}
