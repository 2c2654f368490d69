import { BLUE_SCALE, LUMA, RED_SCALE, toOpponent } from '../pixels/index.js';
import type { SettledReel } from '../settle/index.js';

/** Steps of the histogram along luma, B − Y and R − Y: one level of luma, two of a scaled difference. */
const LUMA_STEPS = 256;
const DIFFERENCE_STEPS = 64;
/** A scaled difference lies within ±64: 0.282 × 226 and 0.3565 × 179. */
const MOST_DIFFERENCE = 64;

/**
 * How often each colour is shown. Colours that are hardly different (256×64×64 steps of luma, B − Y and R − Y) are one bin; only bins
 * in use are held, in the order in which they were met, with the exact mean of the colours that fell into each. Weights
 * count pixels × frames, less where texture hides error.
 */
export interface ColourCube {
  readonly bins: number;
  readonly weights: Float64Array;
  /** Three a bin: its mean luma, scaled B − Y, scaled R − Y (see toOpponent). */
  readonly values: Float64Array;
  /** The exact colours as 0xRRGGBB with their weights, when there are no more than asked for. */
  readonly exact: ReadonlyMap<number, number> | null;
}

/** The step of a colour in the histogram. */
function stepOf(red: number, green: number, blue: number): number {
  const luma = LUMA[0] * red + LUMA[1] * green + LUMA[2] * blue;
  const blueStep = ((blue - luma) * BLUE_SCALE + MOST_DIFFERENCE) >> 1;
  const redStep = ((red - luma) * RED_SCALE + MOST_DIFFERENCE) >> 1;
  return ((luma | 0) * DIFFERENCE_STEPS + blueStep) * DIFFERENCE_STEPS + redStep;
}

/**
 * Counts the settled reel's colours, each segment once, weighted by its duration and by how little its place hides.
 * @param exactLimit keep exact colours as long as there are at most this many.
 */
export function countColours(reel: SettledReel, exactLimit: number): ColourCube {
  /** The bin of each step, counted from 1; 0 where none is in use. */
  const binOf = new Int32Array(LUMA_STEPS * DIFFERENCE_STEPS * DIFFERENCE_STEPS);
  let weight = new Float64Array(1 << 14);
  let sumR = new Float64Array(1 << 14);
  let sumG = new Float64Array(1 << 14);
  let sumB = new Float64Array(1 << 14);
  let bins = 0;
  let exact: Map<number, number> | null = new Map();
  const { masking } = reel;
  for (const [f, { rgba }] of reel.frames.entries()) {
    const durations = reel.durations[f];
    for (let p = 0, at = 0; p < durations.length; p++, at += 4) {
      if (durations[p] === 0) continue;
      // Flat ground shows every band; texture hides it. Smooth parts get more of the palette.
      const share = durations[p] / (masking[p] * masking[p]);
      const r = rgba[at];
      const g = rgba[at + 1];
      const b = rgba[at + 2];
      const step = stepOf(r, g, b);
      let bin = binOf[step] - 1;
      if (bin < 0) {
        bin = bins++;
        binOf[step] = bins;
        if (bins > weight.length) {
          weight = doubled(weight);
          sumR = doubled(sumR);
          sumG = doubled(sumG);
          sumB = doubled(sumB);
        }
      }
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
  }
  const values = new Float64Array(bins * 3);
  for (let bin = 0; bin < bins; bin++) {
    const share = 1 / weight[bin];
    values.set(toOpponent([sumR[bin] * share, sumG[bin] * share, sumB[bin] * share]), bin * 3);
  }
  return { bins, weights: weight, values, exact };
}

function doubled(values: Float64Array): Float64Array<ArrayBuffer> {
  const longer = new Float64Array(values.length * 2);
  longer.set(values);
  return longer;
}
