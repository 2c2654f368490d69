import { BLUE_SCALE, LUMA, RED_SCALE } from '../pixels/index.js';
import { CHROMA_SHARES, type SettledReel, visitStarts } from '../settle/index.js';

/** Steps of the histogram along luma, B − Y and R − Y: one level of luma, two of a scaled difference. */
const LUMA_STEPS = 256;
const DIFFERENCE_STEPS = 90;
/** A scaled difference lies within ±90: 0.395 × 226 and 0.499 × 179. */
export const MOST_DIFFERENCE = 90;

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
 * A histogram being filled. Sums stand five a bin: weight, luma times weight, weight of colour, and scaled B − Y
 * and R − Y times that.
 */
interface Counter {
  /** The bin of each step, counted from 1; 0 where none is in use. */
  readonly binOf: Int32Array;
  steps: Int32Array;
  sums: Float64Array;
  bins: number;
}

/** Numbers in a bin's sums. */
const SUMS = 5;

/** All 0 between two counts: it is large, and used again. */
let emptyBins: Int32Array | null = null;

function createCounter(): Counter {
  emptyBins ??= new Int32Array(LUMA_STEPS * DIFFERENCE_STEPS * DIFFERENCE_STEPS);
  return {
    binOf: emptyBins,
    steps: new Int32Array(1 << 13),
    sums: new Float64Array(SUMS << 13),
    bins: 0,
  };
}

/** The bin of a step; a new one where it was not met before. */
function binAt(counter: Counter, step: number): number {
  const bin = counter.binOf[step] - 1;
  if (bin >= 0) return bin;
  if (counter.bins === counter.steps.length) {
    const steps = new Int32Array(counter.bins * 2);
    const sums = new Float64Array(counter.bins * 2 * SUMS);
    steps.set(counter.steps);
    sums.set(counter.sums);
    counter.steps = steps;
    counter.sums = sums;
  }
  counter.steps[counter.bins] = step;
  counter.bins++;
  counter.binOf[step] = counter.bins;
  return counter.bins - 1;
}

function finish({ bins, sums, steps, binOf }: Counter, exact: ReadonlySet<number> | null): ColourHistogram {
  for (let bin = 0; bin < bins; bin++) binOf[steps[bin]] = 0;

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
  return { bins, weights, chromaWeights, values, exact };
}

/**
 * Counts the colours of the segments that begin in frames from … to − 1, each once, weighted by its duration
 * and by how little its place hides.
 * @param exactLimit keep exact colours as long as there are at most this many.
 */
export function countColours(
  reel: Pick<SettledReel, 'frames' | 'durations' | 'masking' | 'chroma'>,
  from: number,
  to: number,
  exactLimit: number,
): ColourHistogram {
  const counter = createCounter();
  let exact: Set<number> | null = new Set();
  const { masking, chroma } = reel;
  for (let f = from; f < to; f++) {
    const { rgba } = reel.frames[f];
    const durations = reel.durations[f];
    visitStarts(durations, (p) => {
      const at = p * 4;
      // Flat ground shows every band; texture hides it. Smooth parts get more of the palette.
      const share = durations[p] / masking[p];
      const r = rgba[at];
      const g = rgba[at + 1];
      const b = rgba[at + 2];
      const luma = LUMA[0] * r + LUMA[1] * g + LUMA[2] * b;
      const blue = (b - luma) * BLUE_SCALE;
      const red = (r - luma) * RED_SCALE;
      const step =
        ((luma | 0) * DIFFERENCE_STEPS + ((blue + MOST_DIFFERENCE) >> 1)) * DIFFERENCE_STEPS +
        ((red + MOST_DIFFERENCE) >> 1);
      const bin = binAt(counter, step) * SUMS;
      const { sums } = counter;
      const chromaShare = share * CHROMA_SHARES[chroma[p]];
      sums[bin] += share;
      sums[bin + 1] += luma * share;
      sums[bin + 2] += chromaShare;
      sums[bin + 3] += blue * chromaShare;
      sums[bin + 4] += red * chromaShare;
      if (exact) {
        exact.add((r << 16) | (g << 8) | b);
        if (exact.size > exactLimit) exact = null;
      }
    });
  }
  return finish(counter, exact);
}
