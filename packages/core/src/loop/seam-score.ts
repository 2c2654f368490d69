/** A jump that is this many usual steps large is halfway to plain to see. */
const HALFWAY = 2;
/** Added to the usual step, levels: what is hardly seen even where nearly nothing moves. */
const UNSEEN = 1;

/**
 * How unnoticeable a jump is, 0–100: about 90 and more are not noticed, below 60 it is plain to see.
 * @param jump levels by which a frame misses what should follow.
 * @param usualStep levels from frame to frame.
 */
export function seamScore(jump: number, usualStep: number): number {
  return 100 / (1 + (jump / (usualStep + UNSEEN) / HALFWAY) ** 1.5);
}
