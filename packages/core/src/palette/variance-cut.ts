import type { ColourCube, Rgb } from './colour-cube.js';
import { LUMA, LUMA_WEIGHT } from './colour-distance.js';

/**
 * Variance-minimising cut of colour space: Wu 1992, "Color quantization by dynamic programming and
 * principal analysis" / Graphics Gems II, "Efficient statistical computations for optimal color
 * quantization". Each cut splits the box with the largest variance where the two halves' variance
 * is least, read from cumulative moments in constant time.
 */

const SIDE = 65; // 64 bins and an empty plane at 0
const PLANE = SIDE * SIDE;

interface Moments {
  readonly weight: Float64Array;
  readonly r: Float64Array;
  readonly g: Float64Array;
  readonly b: Float64Array;
  readonly luma: Float64Array;
  readonly square: Float64Array;
}

/** Bin ranges, lower bound exclusive, upper inclusive, 0–64. */
interface Box {
  r0: number;
  r1: number;
  g0: number;
  g1: number;
  b0: number;
  b1: number;
}

/** How much each channel counts in the variance; see colourDistance. */
const SCALE: Rgb = [Math.sqrt(2), 2, 1];
const ROOT_LUMA = Math.sqrt(LUMA_WEIGHT);

/** At most `count` palette colours, none empty. */
export function cutByVariance(cube: ColourCube, count: number): Rgb[] {
  const moments = cumulate(cube);
  const whole: Box = { r0: 0, r1: 64, g0: 0, g1: 64, b0: 0, b1: 64 };
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
  return boxes.flatMap(({ box }) => {
    const weight = volume(moments.weight, box);
    if (weight <= 0) return [];
    const colour: Rgb = [
      Math.round(volume(moments.r, box) / weight / SCALE[0]),
      Math.round(volume(moments.g, box) / weight / SCALE[1]),
      Math.round(volume(moments.b, box) / weight / SCALE[2]),
    ];
    return [colour];
  });
}

function cumulate(cube: ColourCube): Moments {
  const size = SIDE * PLANE;
  const moments: Moments = {
    weight: new Float64Array(size),
    r: new Float64Array(size),
    g: new Float64Array(size),
    b: new Float64Array(size),
    luma: new Float64Array(size),
    square: new Float64Array(size),
  };
  for (const bin of cube.used) {
    const at = ((bin >> 12) + 1) * PLANE + (((bin >> 6) & 63) + 1) * SIDE + (bin & 63) + 1;
    const weight = cube.weight[bin];
    const r = cube.sumR[bin] * SCALE[0];
    const g = cube.sumG[bin] * SCALE[1];
    const b = cube.sumB[bin] * SCALE[2];
    moments.weight[at] = weight;
    moments.r[at] = r;
    moments.g[at] = g;
    moments.b[at] = b;
    const luma = ROOT_LUMA * (LUMA[0] * cube.sumR[bin] + LUMA[1] * cube.sumG[bin] + LUMA[2] * cube.sumB[bin]);
    moments.luma[at] = luma;
    moments.square[at] = (r * r + g * g + b * b + luma * luma) / weight;
  }
  for (const table of Object.values(moments) as Float64Array[]) prefixSum(table);
  return moments;
}

/** In-place prefix sums along all three axes. */
function prefixSum(table: Float64Array): void {
  const line = new Float64Array(SIDE);
  for (let r = 1; r < SIDE; r++) {
    line.fill(0);
    for (let g = 1; g < SIDE; g++) {
      let run = 0;
      for (let b = 1, at = r * PLANE + g * SIDE + 1; b < SIDE; b++, at++) {
        run += table[at];
        line[b] += run;
        table[at] = line[b] + table[at - PLANE];
      }
    }
  }
}

function volume(table: Float64Array, { r0, r1, g0, g1, b0, b1 }: Box): number {
  return (
    table[r1 * PLANE + g1 * SIDE + b1] -
    table[r1 * PLANE + g1 * SIDE + b0] -
    table[r1 * PLANE + g0 * SIDE + b1] +
    table[r1 * PLANE + g0 * SIDE + b0] -
    table[r0 * PLANE + g1 * SIDE + b1] +
    table[r0 * PLANE + g1 * SIDE + b0] +
    table[r0 * PLANE + g0 * SIDE + b1] -
    table[r0 * PLANE + g0 * SIDE + b0]
  );
}

function energy(moments: Moments, box: Box): number {
  const weight = volume(moments.weight, box);
  if (weight <= 0) return 0;
  const r = volume(moments.r, box);
  const g = volume(moments.g, box);
  const b = volume(moments.b, box);
  const luma = volume(moments.luma, box);
  return (r * r + g * g + b * b + luma * luma) / weight;
}

function variance(moments: Moments, box: Box): number {
  const single = box.r1 - box.r0 === 1 && box.g1 - box.g0 === 1 && box.b1 - box.b0 === 1;
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
  for (let at = box.r0 + 1; at < box.r1; at++) consider({ ...box, r1: at }, { ...box, r0: at });
  for (let at = box.g0 + 1; at < box.g1; at++) consider({ ...box, g1: at }, { ...box, g0: at });
  for (let at = box.b0 + 1; at < box.b1; at++) consider({ ...box, b1: at }, { ...box, b0: at });
  return halves;
}
