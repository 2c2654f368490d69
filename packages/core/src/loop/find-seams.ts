import { scenesWithin } from '../motion/index.js';
import type { FrameTimes, Span } from '../timing/index.js';
import type { SeamField } from './seam-field.js';
import { runningMovement, type SeamCandidate, searchSeams } from './seam-search.js';

/** Frames that are searched at most, around the span. */
export const MOST_SEARCHED = 1800;
const WINDOW_STEP = 300;
/** Candidates given. */
const CANDIDATES = 12;

/** How long a loop may be, seconds. */
export interface LoopLength {
  readonly min: number;
  readonly max: number;
}

export const USUAL_LOOP_LENGTH: LoopLength = { min: 1, max: 6 };

/**
 * The frames whose signatures a search looks at: all of the take, or as many as can be searched around the
 * span.
 */
export function seamWindow(frameCount: number, span: Span): Span {
  const middle = Math.floor((span.start + span.end) / 2);
  // In steps, so that a small move of the span leaves the window where it is.
  const wanted = Math.floor((middle - MOST_SEARCHED / 2) / WINDOW_STEP) * WINDOW_STEP;
  const start = Math.max(0, Math.min(frameCount - MOST_SEARCHED, wanted));
  return { start, end: Math.min(frameCount, start + MOST_SEARCHED) };
}

/**
 * The best places to join, for the interface and the command line alike.
 * @param field over the frames of the window.
 * @param within only loops inside this span.
 * @param cuts first frames of other scenes, rising: a loop lies within one scene, since no seam hides a cut.
 */
export function findSeams(
  field: SeamField,
  window: Span,
  times: FrameTimes,
  within: Span,
  length: LoopLength,
  cuts: readonly number[] = [],
): SeamCandidate[] {
  const rate = times.starts.length / times.duration;
  const found = scenesWithin(within, cuts).flatMap((scene) =>
    searchSeams(field, {
      from: Math.max(0, scene.start - window.start),
      to: Math.min(window.end, scene.end) - window.start,
      shortest: Math.max(2, Math.ceil(length.min * rate - 1e-6)),
      longest: Math.floor(length.max * rate + 1e-6),
      most: CANDIDATES,
    }),
  );
  const best = found.sort((one, other) => other.rank - one.rank).slice(0, CANDIDATES);
  return best.map((candidate) => ({
    ...candidate,
    start: candidate.start + window.start,
    end: candidate.end + window.start,
  }));
}

/**
 * A place that was found in another way, not measured yet.
 * @param field over the frames of the window.
 */
export function seamAt(field: SeamField, window: Span, { start, end }: Span): SeamCandidate {
  const movement = runningMovement(field);
  const usual = movement(0, field.frames);
  const moves = usual > 0 ? movement(start - window.start, end - window.start) / usual : 1;
  return { start, end, score: 0, moves, rank: 0 };
}
