import { BLUE_SCALE, LUMA, RED_SCALE } from '../pixels/index.js';
import { CHROMA_SHARES, visitStarts } from '../settle/index.js';
import { type CountedReel, DIFFERENCE_STEPS, MOST_DIFFERENCE, SUMS } from './count-work.js';
import { countFast } from './fast-count.js';

/**
 * How often each colour is shown. Colours that are hardly different (256×90×90 steps of luma, B − Y and R −
 * Y) are one bin; only bins in use are held, with the exact mean of the colours that fell into each. Weights
 * count pixels × frames, less where texture hides error.
 */
export interface ColourHistogram {
  readonly bins: number;
  readonly weights: Float64Array;
  /** What differences of colour weigh in each: its weight times the share of colour where it is seen. */
  readonly chromaWeights: Float64Array;
  /** Three a bin: its mean luma, scaled B − Y, scaled R − Y (see toOpponent). */
  readonly values: Float64Array;
  /** The exact colours as 0xRRGGBB, when there are no more than asked for. */
  readonly exact: ReadonlySet<number> | null;
}

/**
 * Counts the colours of the segments that begin in frames from … to − 1, each once, weighted by its duration
 * and by how little its place hides.
 * @param exactLimit keep exact colours as long as there are at most this many.
 */
export function countColours(
  reel: CountedReel,
  from: number,
  to: number,
  exactLimit: number,
): ColourHistogram {
  const sums = countFast(reel, from, to) ?? countPlainly(reel, from, to);
  const bins = sums.length / SUMS;
  const weights = new Float64Array(bins);
  const chromaWeights = new Float64Array(bins);
  const values = new Float64Array(bins * 3);
  for (let bin = 0, at = 0; bin < bins; bin++, at += SUMS) {
    weights[bin] = sums[at];
    chromaWeights[bin] = sums[at + 2];
    values[bin * 3] = sums[at + 1] / sums[at];
    values[bin * 3 + 1] = sums[at + 3] / sums[at + 2];
    values[bin * 3 + 2] = sums[at + 4] / sums[at + 2];
  }
  // Every bin has a colour of its own.
  const exact = bins > exactLimit ? null : exactColours(reel, from, to, exactLimit);
  return { bins, weights, chromaWeights, values, exact };
}

/**
 * Reference implementation, used where no kernel can run: the sums of each bin in use, in the order in which
 * they were met.
 */
export function countPlainly(reel: CountedReel, from: number, to: number): Float64Array {
  const binOf = new Map<number, number>();
  const sums: number[] = [];
  const { masking, chroma } = reel;
  for (let f = from; f < to; f++) {
    const { rgba } = reel.frames[f];
    const durations = reel.durations[f];
    visitStarts(durations, (p) => {
      const at = p * 4;
      // Flat ground shows every band; texture hides it. Smooth parts get more of the palette.
      const share = durations[p] / masking[p];
      const luma = LUMA[0] * rgba[at] + LUMA[1] * rgba[at + 1] + LUMA[2] * rgba[at + 2];
      const blue = (rgba[at + 2] - luma) * BLUE_SCALE;
      const red = (rgba[at] - luma) * RED_SCALE;
      const step =
        ((luma | 0) * DIFFERENCE_STEPS + ((blue + MOST_DIFFERENCE) >> 1)) * DIFFERENCE_STEPS +
        ((red + MOST_DIFFERENCE) >> 1);
      const bin = binOf.get(step) ?? sums.length;
      if (bin === sums.length) {
        binOf.set(step, bin);
        sums.push(0, 0, 0, 0, 0);
      }
      const chromaShare = share * CHROMA_SHARES[chroma[p]];
      sums[bin] += share;
      sums[bin + 1] += luma * share;
      sums[bin + 2] += chromaShare;
      sums[bin + 3] += blue * chromaShare;
      sums[bin + 4] += red * chromaShare;
    });
  }
  return Float64Array.from(sums);
}

/** All colours as 0xRRGGBB; null as soon as there are more than `most`. */
function exactColours(
  { frames, durations }: CountedReel,
  from: number,
  to: number,
  most: number,
): Set<number> | null {
  const exact = new Set<number>();
  for (let f = from; f < to; f++) {
    const { rgba } = frames[f];
    const begun = durations[f];
    for (let p = 0; p < begun.length; p++) {
      if (begun[p] === 0) continue;
      exact.add((rgba[p * 4] << 16) | (rgba[p * 4 + 1] << 8) | rgba[p * 4 + 2]);
      if (exact.size > most) return null;
    }
  }
  return exact;
}
