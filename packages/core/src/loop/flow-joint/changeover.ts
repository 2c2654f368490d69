import type { Size } from '../../pixels/index.js';
import type { Blocks } from '../looks/index.js';
import { blockPixels, meanNear, softPixels } from './block-maps.js';

/** Frames, and seconds, over which at least what cannot be led changes over. */
const SHORTEST = { frames: 4, seconds: 0.25 };
/** How much more a moment at either end costs than one in the middle. */
const LEAN = 0.3;

/** When each place of the picture changes over from the end of the loop to its start. */
export interface Changeover {
  /** How much of the start is seen in each frame of the joint, 0–1 by pixel. */
  readonly shares: readonly Float32Array[];
}

/**
 * What is led changes over evenly; what cannot be led does so quickly, at the moment at which both sides are most alike
 * there.
 * @param falls how much of each block cannot be led, 0–1.
 * @param misses squared levels between both sides, of each frame by block.
 * @param seconds for which a frame is shown.
 * @param looks the size on which the blocks lie.
 * @param to the size of the answer.
 */
export function changeOver(
  falls: Blocks,
  misses: readonly Float32Array[],
  seconds: number,
  looks: Size,
  to: Size,
): Changeover {
  const count = misses.length;
  const long = count + 1;
  const middle = long / 2;
  const short = Math.min(long, Math.max(SHORTEST.frames, Math.round(SHORTEST.seconds / seconds)));
  const near = misses.map((values) => meanNear({ ...falls, values }));
  const moments = falls.values.map((_, b) => {
    const best = bestMoment(
      near.map((values) => values[b]),
      short,
    );
    return best ?? middle;
  });
  const quick = softPixels(falls, looks, to);
  const moment = blockPixels({ ...falls, values: meanNear({ ...falls, values: moments }) }, looks, to);
  const shares = misses.map((_, n) => {
    const out = new Float32Array(quick.length);
    for (let p = 0; p < out.length; p++) {
      const over = long + (short - long) * quick[p];
      const centre = middle + (moment[p] - middle) * quick[p];
      out[p] = Math.max(0, Math.min(1, (n + 1 - centre) / over + 0.5));
    }
    return out;
  });
  return { shares };
}

/** When both sides are most alike, away from both ends and a little drawn to the middle; null in a joint that is too short. */
function bestMoment(misses: readonly number[], short: number): number | null {
  const long = misses.length + 1;
  let best: { readonly cost: number; readonly at: number } | null = null;
  for (const [n, miss] of misses.entries()) {
    const at = n + 1;
    if (at < short / 2 || at > long - short / 2) continue;
    const cost = miss * (1 + LEAN * Math.abs((2 * at) / long - 1));
    if (!best || cost < best.cost) best = { cost, at };
  }
  return best?.at ?? null;
}
