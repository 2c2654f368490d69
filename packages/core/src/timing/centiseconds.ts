import { UserError } from '../errors/index.js';
/**
 * GIF counts time in hundredths of a second (GIF89a, 23.c.v). These helpers keep a loop's length
 * right to a centisecond at any frame rate by carrying the remainder from frame to frame.
 */

/** The longest delay one GIF frame can hold, in centiseconds: an unsigned 16-bit number. */
export const LONGEST_DELAY_CS = 65535;

/** The shortest delay that common viewers play as written, in centiseconds. */
export const SHORTEST_HONEST_DELAY_CS = 2;

/**
 * Whole-centisecond delays for `count` frames that share `totalCs` as evenly as whole numbers can:
 * their sum is exactly `totalCs` and no two differ by more than 1.
 * @throws RangeError if there is no frame, or less than a centisecond for each.
 */
export function shareCentiseconds(totalCs: number, count: number): number[] {
  if (!Number.isInteger(count) || count < 1) throw new RangeError(`A reel needs a frame; got ${count}.`);
  if (!Number.isInteger(totalCs) || totalCs < count) {
    throw new UserError(
      'pace_impossible',
      `${count} frames cannot share ${totalCs} hundredths of a second. Lower the frame rate or widen the span.`,
    );
  }
  const delays: number[] = [];
  let shown = 0;
  for (let frame = 1; frame <= count; frame++) {
    const until = Math.round((frame * totalCs) / count);
    delays.push(until - shown);
    shown = until;
  }
  return delays;
}
