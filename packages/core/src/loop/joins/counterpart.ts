import { momentAt, momentSeconds, type Reel, spanSeconds, type TakeMoment } from '../../timing/index.js';
import type { JoinContext } from './join.js';

/**
 * What is seen a whole span before a frame of the reel, as the reel runs; null where the take has nothing there.
 * @param isAfter whether it is a whole span after it instead.
 */
export function counterpart(
  pick: TakeMoment,
  { times, span, reverse, isSmooth }: JoinContext,
  isAfter = false,
): TakeMoment | null {
  const length = spanSeconds(times, span);
  const at = momentSeconds(times, pick) + (reverse !== isAfter ? length : -length);
  // A rounding of time stamps does not make a frame unreachable.
  const slack = times.duration / times.starts.length / 4;
  if (at < -slack || at >= times.duration - slack) return null;
  return momentAt(times, Math.max(0, at), isSmooth);
}

/** How many of the last frames have something a whole span before them; all but one at most. */
export function reachBefore(reel: Reel, context: JoinContext): number {
  let frames = 0;
  while (frames < reel.length - 1 && counterpart(reel[reel.length - 1 - frames], context) !== null) frames++;
  return frames;
}

/** How many of the first frames have something a whole span after them; all but one at most. */
export function reachAfter(reel: Reel, context: JoinContext): number {
  let frames = 0;
  while (frames < reel.length - 1 && counterpart(reel[frames], context, true) !== null) frames++;
  return frames;
}
