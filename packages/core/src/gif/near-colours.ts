import { colourDistance, type Rgb } from '../pixels/index.js';

/** How many stand-ins are tried for a pixel's colour. */
export const NEAR_COUNT = 8;

/** For every palette colour its nearest others, nearest first, and all pairwise distances. */
export interface NearColours {
  /** `near[i * NEAR_COUNT + k]`: the k-th nearest other colour of i; −1 where there are no more. */
  readonly near: Int16Array;
  /** `distance[(i << 8) | j]`: colourDistance of i and j. */
  readonly distance: Float32Array;
}

export function findNearColours(palette: readonly Rgb[]): NearColours {
  const near = new Int16Array(palette.length * NEAR_COUNT).fill(-1);
  const distance = new Float32Array(256 * 256);
  palette.forEach((colour, i) => {
    palette.forEach((other, j) => {
      distance[(i << 8) | j] = colourDistance(colour, other);
    });
    const others = palette.map((_, j) => j).filter((j) => j !== i);
    others.sort((a, b) => distance[(i << 8) | a] - distance[(i << 8) | b]);
    others.slice(0, NEAR_COUNT).forEach((j, k) => {
      near[i * NEAR_COUNT + k] = j;
    });
  });
  return { near, distance };
}
