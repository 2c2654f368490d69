import { orderedDither, type ThresholdTile } from './ordered.js';

const SIDE = 8;

/** The recursive threshold matrix of Bayer 1973, "An optimum method for two-level rendition". */
export function bayerTile(side: number): ThresholdTile {
  const values = new Float32Array(side * side);
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      let rank = 0;
      for (let bit = 1, weight = (side * side) / 4; bit < side; bit *= 2, weight /= 4) {
        const odd = ((x & bit) !== 0 ? 1 : 0) ^ ((y & bit) !== 0 ? 1 : 0);
        rank += weight * (odd * 2 + ((y & bit) !== 0 ? 1 : 0));
      }
      values[y * side + x] = (rank + 0.5) / (side * side) - 0.5;
    }
  }
  return { side, values };
}

export const bayer = orderedDither(() => bayerTile(SIDE));
