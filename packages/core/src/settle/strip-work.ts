import type { ParallelJob, PixelFrame } from '../pixels/index.js';

/** A reel being settled. Both ways of settling a strip read and write the same things. */
export interface StripWork extends ParallelJob<'settle'> {
  readonly frames: readonly PixelFrame[];
  readonly durations: readonly Uint16Array[];
  readonly masking: Float32Array;
  readonly width: number;
  readonly height: number;
  /** Most rows in a strip. */
  readonly mostRows: number;
  /** What redrawing one pixel costs on flat ground, squared levels. */
  readonly price: number;
}

/** Settles `rows` rows from row `top` on, in place. */
export type SettleStrip = (top: number, rows: number) => void;

/**
 * This many neighbouring pixels of a row are decided at once, each by itself, from what stands around them.
 */
export const GROUP = 4;

/**
 * How often the strip is gone through: first each pixel by itself, then knowing what its neighbours do, in
 * the order of the rows, so that what was just decided counts at once. A third time over is worth 2 % of the
 * bytes, a fourth under 1 %.
 */
export const PASSES = 3;

/**
 * What redrawing costs when this many of the eight neighbours are redrawn too, as a share of the usual: a
 * lone pixel breaks a run of transparent ones and is dear, one among many is cheap, since the strings that
 * cover many together are searched for. Steeper still saves no more and shimmers.
 */
export const NEIGHBOUR_COST = [7, 4.5, 2.8, 1.65, 1, 0.7, 0.48, 0.34, 0.26];

/**
 * And by how far the source itself steps in luma at that frame. A step that is drawn where the source stands
 * still is seen as shimmer; drawn where the source steps too, it follows the motion. Steps up to STILL_LEVELS
 * count as none; beyond, each level takes STEP_DISCOUNT off, down to LEAST_STEP_COST.
 */
export const STILL_LEVELS = 1;
export const STILL_COST = 2.2;
export const STEP_DISCOUNT = 0.15;
export const LEAST_STEP_COST = 0.25;

export function stepCost(levels: number): number {
  if (levels <= STILL_LEVELS) return STILL_COST;
  return Math.max(LEAST_STEP_COST, 1 - STEP_DISCOUNT * (levels - STILL_LEVELS));
}
