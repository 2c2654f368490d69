import { opponentValues } from '../palette/index.js';
import type { Rgb } from '../pixels/index.js';

/** How many stand-ins are tried for a pixel's colour. */
export const NEAR_COUNT = 8;

/**
 * For every palette colour its nearest others, nearest first.
 * @returns `near[i * NEAR_COUNT + k]`: the k-th nearest other colour of i; −1 where there are no more.
 */
export function findNearColours(palette: readonly Rgb[]): Int16Array {
  const values = opponentValues(palette);
  const near = new Int16Array(palette.length * NEAR_COUNT).fill(-1);
  const distances = new Float64Array(NEAR_COUNT);
  for (let i = 0; i < palette.length; i++) {
    const base = i * NEAR_COUNT;
    let held = 0;
    for (let j = 0; j < palette.length; j++) {
      if (j === i) continue;
      const y = values[i * 3] - values[j * 3];
      const u = values[i * 3 + 1] - values[j * 3 + 1];
      const v = values[i * 3 + 2] - values[j * 3 + 2];
      const distance = y * y + u * u + v * v;
      if (held === NEAR_COUNT && distance >= distances[held - 1]) continue;
      // Insertion: the list is short.
      let k = held < NEAR_COUNT ? held++ : held - 1;
      for (; k > 0 && distances[k - 1] > distance; k--) {
        distances[k] = distances[k - 1];
        near[base + k] = near[base + k - 1];
      }
      distances[k] = distance;
      near[base + k] = j;
    }
  }
  return near;
}
