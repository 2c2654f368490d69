import { growKernel, type KernelMemory, startKernel } from '../pixels/index.js';
import { CLUSTER_KERNEL } from './cluster-kernel.js';
import type { ColourHistogram } from './colour-histogram.js';
import { MOST_DIFFERENCE } from './count-work.js';
import { type MoveCentres, SPLIT_GAIN } from './move-centres.js';
import { DIFFERENCE_STEPS, LUMA_STEPS } from './variance-cut.js';

/** What packages/core/kernel/cluster.ts exports. */
interface Kernel extends KernelMemory {
  firstFree(): number;
  place(
    at: number,
    bins: number,
    lumaSteps: number,
    differenceSteps: number,
    mostDifference: number,
    splitGain: number,
  ): number;
  weightsAt(): number;
  valuesAt(): number;
  centresAt(): number;
  sumsAt(): number;
  cut(bins: number, most: number): number;
  move(count: number, relocates: boolean): number;
}

/** The first colours of a palette and how they are moved, by the kernel: to the bit as cutByVariance and movePlainly. */
export interface FastClusters {
  cut(count: number): Float64Array;
  readonly move: MoveCentres;
}

/** @returns null where the kernel cannot run. */
export function startClusters({ bins, weights, values }: ColourHistogram): FastClusters | null {
  const kernel = startKernel<Kernel>(CLUSTER_KERNEL);
  if (!kernel) return null;
  const at = kernel.firstFree();
  growKernel(kernel, kernel.place(at, bins, LUMA_STEPS, DIFFERENCE_STEPS, MOST_DIFFERENCE, SPLIT_GAIN));
  const { buffer } = kernel.memory;
  new Float64Array(buffer, kernel.weightsAt(), bins).set(weights.subarray(0, bins));
  new Float64Array(buffer, kernel.valuesAt(), bins * 3).set(values.subarray(0, bins * 3));
  const centresOf = (count: number) => new Float64Array(buffer, kernel.centresAt(), count * 3);
  return {
    cut: (count) => centresOf(kernel.cut(bins, count)).slice(),
    move(centres, sums, relocates) {
      const count = centres.length / 3;
      centresOf(count).set(centres);
      new Float64Array(buffer, kernel.sumsAt(), sums.length).set(sums);
      const error = kernel.move(count, relocates);
      return { centres: centresOf(count).slice(), error };
    },
  };
}
