import type { ColourHistogram } from './colour-histogram.js';
import { MOST_DIFFERENCE } from './count-work.js';

/**
 * Variance-minimising cut of colour space: Wu 1992, "Color quantization by dynamic programming and
 * principal analysis" / Graphics Gems II, "Efficient statistical computations for optimal color
 * quantization". Each cut splits the box with the largest variance where the two halves' variance
 * is least, read from cumulative moments in constant time.
 */

/** Steps along luma, and along a scaled difference. */
export const LUMA_STEPS = 64;
export const DIFFERENCE_STEPS = 32;
/** One more a side: an empty plane at 0. */
const LUMA_SIDE = LUMA_STEPS + 1;
const SIDE = DIFFERENCE_STEPS + 1;
const PLANE = SIDE * SIDE;

interface Moments {
  readonly weight: Float64Array;
  readonly luma: Float64Array;
  readonly blueDifference: Float64Array;
  readonly redDifference: Float64Array;
  readonly square: Float64Array;
}

/** Bin ranges along luma, B − Y and R − Y; lower bound exclusive, upper inclusive. */
interface Box {
  y0: number;
  y1: number;
  u0: number;
  u1: number;
  v0: number;
  v1: number;
}

/** The means of at most `count` boxes, none empty: luma, scaled B − Y, scaled R − Y of each. */
export function cutByVariance(histogram: ColourHistogram, count: number): Float64Array {
  const moments = cumulate(histogram);
  const whole: Box = { y0: 0, y1: LUMA_STEPS, u0: 0, u1: DIFFERENCE_STEPS, v0: 0, v1: DIFFERENCE_STEPS };
  const boxes = [{ box: whole, variance: variance(moments, whole) }];
  while (boxes.length < count) {
    let widest = 0;
    for (let i = 1; i < boxes.length; i++) if (boxes[i].variance > boxes[widest].variance) widest = i;
    if (boxes[widest].variance <= 1e-6) break;
    const halves = split(moments, boxes[widest].box);
    if (!halves) {
      boxes[widest].variance = 0;
      continue;
    }
    boxes[widest] = { box: halves[0], variance: variance(moments, halves[0]) };
    boxes.push({ box: halves[1], variance: variance(moments, halves[1]) });
  }
  const centres = boxes.flatMap(({ box }) => {
    const weight = volume(moments.weight, box);
    if (weight <= 0) return [];
    return [moments.luma, moments.blueDifference, moments.redDifference].map(
      (table) => volume(table, box) / weight,
    );
  });
  return Float64Array.from(centres);
}

function cumulate(histogram: ColourHistogram): Moments {
  const size = LUMA_SIDE * PLANE;
  const moments: Moments = {
    weight: new Float64Array(size),
    luma: new Float64Array(size),
    blueDifference: new Float64Array(size),
    redDifference: new Float64Array(size),
    square: new Float64Array(size),
  };
  const { weights, values } = histogram;
  for (let bin = 0, i = 0; bin < histogram.bins; bin++, i += 3) {
    const weight = weights[bin];
    const luma = values[i];
    const blueDifference = values[i + 1];
    const redDifference = values[i + 2];
    const at =
      (stepOf(luma, 0, LUMA_STEPS / 256) + 1) * PLANE +
      (stepOf(blueDifference, MOST_DIFFERENCE, DIFFERENCE_STEPS / (2 * MOST_DIFFERENCE)) + 1) * SIDE +
      stepOf(redDifference, MOST_DIFFERENCE, DIFFERENCE_STEPS / (2 * MOST_DIFFERENCE)) +
      1;
    moments.weight[at] += weight;
    moments.luma[at] += luma * weight;
    moments.blueDifference[at] += blueDifference * weight;
    moments.redDifference[at] += redDifference * weight;
    moments.square[at] +=
      (luma * luma + blueDifference * blueDifference + redDifference * redDifference) * weight;
  }
  for (const table of Object.values(moments) as Float64Array[]) prefixSum(table);
  return moments;
}

function stepOf(value: number, shift: number, scale: number): number {
  return Math.floor((value + shift) * scale);
}

/** In-place prefix sums along all three axes. */
function prefixSum(table: Float64Array): void {
  const line = new Float64Array(SIDE);
  for (let y = 1; y < LUMA_SIDE; y++) {
    line.fill(0);
    for (let u = 1; u < SIDE; u++) {
      let run = 0;
      for (let v = 1, at = y * PLANE + u * SIDE + 1; v < SIDE; v++, at++) {
        run += table[at];
        line[v] += run;
        table[at] = line[v] + table[at - PLANE];
      }
    }
  }
}

function volume(table: Float64Array, { y0, y1, u0, u1, v0, v1 }: Box): number {
  return (
    table[y1 * PLANE + u1 * SIDE + v1] -
    table[y1 * PLANE + u1 * SIDE + v0] -
    table[y1 * PLANE + u0 * SIDE + v1] +
    table[y1 * PLANE + u0 * SIDE + v0] -
    table[y0 * PLANE + u1 * SIDE + v1] +
    table[y0 * PLANE + u1 * SIDE + v0] +
    table[y0 * PLANE + u0 * SIDE + v1] -
    table[y0 * PLANE + u0 * SIDE + v0]
  );
}

function energy(moments: Moments, box: Box): number {
  const weight = volume(moments.weight, box);
  if (weight <= 0) return 0;
  const luma = volume(moments.luma, box);
  const blueDifference = volume(moments.blueDifference, box);
  const redDifference = volume(moments.redDifference, box);
  return (luma * luma + blueDifference * blueDifference + redDifference * redDifference) / weight;
}

function variance(moments: Moments, box: Box): number {
  const single = box.y1 - box.y0 === 1 && box.u1 - box.u0 === 1 && box.v1 - box.v0 === 1;
  return single ? 0 : volume(moments.square, box) - energy(moments, box);
}

function split(moments: Moments, box: Box): [Box, Box] | null {
  let best = -1;
  let halves: [Box, Box] | null = null;
  const consider = (lower: Box, upper: Box) => {
    if (volume(moments.weight, lower) <= 0 || volume(moments.weight, upper) <= 0) return;
    const gain = energy(moments, lower) + energy(moments, upper);
    if (gain > best) {
      best = gain;
      halves = [lower, upper];
    }
  };
  for (let at = box.y0 + 1; at < box.y1; at++) consider({ ...box, y1: at }, { ...box, y0: at });
  for (let at = box.u0 + 1; at < box.u1; at++) consider({ ...box, u1: at }, { ...box, u0: at });
  for (let at = box.v0 + 1; at < box.v1; at++) consider({ ...box, v1: at }, { ...box, v0: at });
  return halves;
}
