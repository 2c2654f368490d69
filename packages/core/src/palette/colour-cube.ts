import type { SettledReel } from '../settle/index.js';

/** Bits a channel in the histogram: 64 steps of 4 levels. */
const BITS = 6;
const SHIFT = 8 - BITS;
export const CUBE_BINS = 1 << (3 * BITS);

/** A palette colour, sRGB 0–255. */
export type Rgb = readonly [red: number, green: number, blue: number];

/**
 * How often each colour is shown: 64×64×64 bins, red outermost, with the exact sums of the colours
 * that fell into each. `weight` counts pixels × frames, less where texture hides error.
 */
export interface ColourCube {
  readonly weight: Float64Array;
  readonly sumR: Float64Array;
  readonly sumG: Float64Array;
  readonly sumB: Float64Array;
  /** Bins in use. */
  readonly used: Int32Array;
  /** The exact colours as 0xRRGGBB with their weights, when there are no more than asked for. */
  readonly exact: ReadonlyMap<number, number> | null;
}

/** The bin of a colour. */
export function cubeBin(red: number, green: number, blue: number): number {
  return ((red >> SHIFT) << (2 * BITS)) | ((green >> SHIFT) << BITS) | (blue >> SHIFT);
}

/**
 * Counts the settled reel's colours, each segment once, weighted by its duration and by how little its place hides.
 * @param exactLimit keep exact colours as long as there are at most this many.
 */
export function countColours(reel: SettledReel, exactLimit: number): ColourCube {
  const weight = new Float64Array(CUBE_BINS);
  const sumR = new Float64Array(CUBE_BINS);
  const sumG = new Float64Array(CUBE_BINS);
  const sumB = new Float64Array(CUBE_BINS);
  let exact: Map<number, number> | null = new Map();
  const { masking } = reel;
  reel.frames.forEach((frame, f) => {
    const { rgba } = frame;
    const durations = reel.durations[f];
    for (let p = 0, at = 0; p < durations.length; p++, at += 4) {
      if (durations[p] === 0) continue;
      // Flat ground shows every band; texture hides it. Smooth parts get more of the palette.
      const share = durations[p] / (masking[p] * masking[p]);
      const r = rgba[at];
      const g = rgba[at + 1];
      const b = rgba[at + 2];
      const bin = cubeBin(r, g, b);
      weight[bin] += share;
      sumR[bin] += r * share;
      sumG[bin] += g * share;
      sumB[bin] += b * share;
      if (exact) {
        const key = (r << 16) | (g << 8) | b;
        exact.set(key, (exact.get(key) ?? 0) + share);
        if (exact.size > exactLimit) exact = null;
      }
    }
  });
  const used = new Int32Array(CUBE_BINS);
  let count = 0;
  for (let bin = 0; bin < CUBE_BINS; bin++) if (weight[bin] > 0) used[count++] = bin;
  return { weight, sumR, sumG, sumB, used: used.slice(0, count), exact };
}
