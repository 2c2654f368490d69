import {
  BLUE_SCALE,
  growKernel,
  type KernelMemory,
  RED_SCALE,
  type Rgb,
  startKernel,
} from '../pixels/index.js';
import { CHROMA_SHARES } from '../settle/index.js';
import type { ColourHistogram } from './colour-histogram.js';
import { opponentValues } from './nearest.js';
import { NEAREST_KERNEL } from './nearest-kernel.js';

/** What packages/core/kernel/nearest.ts exports. */
interface Kernel extends KernelMemory {
  firstFree(): number;
  place(at: number, classes: number, blueScale: number, redScale: number): number;
  lumasAt(): number;
  orderAt(): number;
  scalesAt(): number;
  coloursAt(): number;
  sumsAt(bins: number): number;
  bytesForBins(bins: number): number;
  bytesForFrame(pixels: number): number;
  takeEntries(count: number): void;
  assign(bins: number, count: number): void;
  forget(pixels: number): void;
  mapFrame(pixels: number, count: number): void;
}

/** Numbers from the blues of a class to its reds. */
const PLANE = 260;
/** Numbers of each centre, see AssignBins. */
export const CENTRE_SUMS = 8;

/** @returns null where it cannot run. */
function start(): { readonly kernel: Kernel; readonly work: number } | null {
  const kernel = startKernel<Kernel>(NEAREST_KERNEL);
  if (!kernel) return null;
  const work = kernel.place(kernel.firstFree(), CHROMA_SHARES.length, BLUE_SCALE, RED_SCALE);
  return { kernel, work };
}

/** Gives it colours to choose among, three values each. */
function takeEntries(kernel: Kernel, values: Float64Array): void {
  const count = values.length / 3;
  const { buffer } = kernel.memory;
  const all = Array.from({ length: count }, (_, i) => i);
  const order = all.sort((a, b) => values[a * 3] - values[b * 3] || a - b);
  new Int32Array(buffer, kernel.orderAt(), count).set(order);
  new Float32Array(buffer, kernel.scalesAt(), CHROMA_SHARES.length).set(CHROMA_SHARES.map(Math.sqrt));
  const lumas = new Float32Array(buffer, kernel.lumasAt(), count);
  const colours = new Float32Array(buffer, kernel.coloursAt(), PLANE + count);
  for (const [place, i] of order.entries()) {
    lumas[place] = values[i * 3];
    colours[place] = values[i * 3 + 1];
    colours[PLANE + place] = values[i * 3 + 2];
  }
  kernel.takeEntries(count);
}

/**
 * A pass of k-means: every bin goes to its nearest centre.
 * @returns eight for each centre: weight, weight of colour, luma times weight, blue and red times weight of colour,
 * and the three once more with squares.
 */
export type AssignBins = (centres: Float64Array) => Float64Array;

/** @param classes the class of each bin, see CHROMA_SHARES. @returns null where the kernel cannot run. */
export function startAssigning(histogram: ColourHistogram, classes: Uint8Array): AssignBins | null {
  const started = start();
  if (!started) return null;
  const { kernel, work } = started;
  const { bins, weights, chromaWeights, values } = histogram;
  growKernel(kernel, kernel.bytesForBins(bins));
  const { buffer } = kernel.memory;
  const padded = (bins + 15) & ~15;
  const plane = (n: number) => new Float32Array(buffer, work + n * padded * 4, bins);
  for (let c = 0; c < 3; c++) {
    const into = plane(c);
    for (let bin = 0; bin < bins; bin++) into[bin] = values[bin * 3 + c];
  }
  plane(3).set(weights.subarray(0, bins));
  plane(4).set(chromaWeights.subarray(0, bins));
  new Uint8Array(buffer, work + padded * 20, bins).set(classes.subarray(0, bins));
  return (centres) => {
    const count = centres.length / 3;
    takeEntries(kernel, centres);
    kernel.assign(bins, count);
    return new Float64Array(buffer, kernel.sumsAt(bins), count * CENTRE_SUMS).slice();
  };
}

/** Writes the palette entry of every segment that begins in a frame. */
export type MapFrame = (rgba: Uint8Array, durations: Uint16Array, plan: Uint8Array) => void;

/**
 * Maps frames without a dither.
 * @param chroma the class of each pixel, see Masking.
 * @returns what takes a palette; null where the kernel cannot run.
 */
export function startFastMapping(chroma: Uint8Array): ((palette: readonly Rgb[]) => MapFrame) | null {
  const started = start();
  if (!started) return null;
  const { kernel, work } = started;
  const pixels = chroma.length;
  growKernel(kernel, kernel.bytesForFrame(pixels));
  const { buffer } = kernel.memory;
  const padded = (pixels + 15) & ~15;
  const rgbaHere = new Uint8Array(buffer, work, pixels * 4);
  const durationsHere = new Uint16Array(buffer, work + padded * 4, pixels);
  new Uint8Array(buffer, work + padded * 6, pixels).set(chroma);
  const planHere = new Uint8Array(buffer, work + padded * 7, pixels);
  return (palette) => {
    takeEntries(kernel, opponentValues(palette));
    kernel.forget(pixels);
    return (rgba, durations, plan) => {
      rgbaHere.set(rgba);
      durationsHere.set(durations);
      planHere.set(plan);
      kernel.mapFrame(pixels, palette.length);
      plan.set(planHere);
    };
  };
}
