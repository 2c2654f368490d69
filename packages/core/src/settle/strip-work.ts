import type { ParallelJob, PixelFrame } from '../pixels/index.js';

/** A reel being settled: the data that the kernel and the reference implementation share. */
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
  readonly costs: RedrawCosts;
}

/** Settles `rows` rows from row `top` on, in place. */
export type SettleStrip = (top: number, rows: number) => void;

/** So many neighbouring pixels of a row are decided together, each from the cuts around it before. */
export const GROUP = 4;

/**
 * How often the strip is gone through: first each pixel by itself, then with the neighbours' cuts known, in
 * the order of the rows, so that new cuts count at once. A third time over is worth 2 % of the bytes, a
 * fourth under 1 %.
 */
export const PASSES = 3;

/**
 * What redrawing costs when this many of the eight neighbours are redrawn too, as a share of the usual: a
 * lone pixel breaks a run of transparent ones and is dear, one among many is cheap …
 */
const NEIGHBOUR_COST = [3, 2.2, 1.7, 1.3, 1, 0.85, 0.7, 0.6, 0.5];
/**
 * … the more so where the strings that cover many together are searched for (see SettleOptions.merging).
 * Steeper still saves no more, and shimmers.
 */
const MERGED_NEIGHBOUR_COST = [7, 4.5, 2.8, 1.65, 1, 0.7, 0.48, 0.34, 0.26];

/**
 * And by how far the source itself steps in luma at that frame. A step that is drawn where the source stands
 * still is seen as shimmer; drawn where the source steps too, it follows the motion. Steps up to STILL_LEVELS
 * count as none; beyond, each level takes STEP_DISCOUNT off, down to LEAST_STEP_COST.
 */
const STILL_LEVELS = 1;
const STILL_COST = 1.7;
const MERGED_STILL_COST = 2.8;
const STEP_DISCOUNT = 0.15;
const LEAST_STEP_COST = 0.25;

/** Lengths over which the means on both sides of a frame are compared, frames. */
export const SCALES = [1, 3, 9, 27] as const;

/**
 * A frame is a candidate for a cut when splitting its surroundings there saves this share of the price, whatever
 * makes it cheaper there …
 */
const CANDIDATE_SHARES = [0.4, 0.4, 0.4, 0.4];
/**
 * … and where redrawing is cheap beside other redrawn pixels: then what drifts slowly is not drawn in many small steps at frames
 * where the source does not step, which is seen as motion that is not there.
 */
const MERGED_CANDIDATE_SHARES = [0.8, 2.2, 8, 2.3];

/** The factors of the cost of a redrawn pixel. */
export interface RedrawCosts {
  /** By the number of neighbours that are redrawn too, 0–8. */
  readonly neighbours: readonly number[];
  /** Where the source steps by no more than `stillLevels`, levels of luma. */
  readonly still: number;
  readonly stillLevels: number;
  /** Taken off for each level beyond, down to `least`. */
  readonly discount: number;
  readonly least: number;
  /** What a cut must save over each of SCALES to be thought of, as a share of the price. */
  readonly candidates: readonly number[];
}

/** @param merging see SettleOptions. */
export function redrawCosts(merging: number): RedrawCosts {
  const mix = (a: number, b: number) => a * (b / a) ** merging;
  return {
    neighbours: NEIGHBOUR_COST.map((cost, n) => mix(cost, MERGED_NEIGHBOUR_COST[n])),
    still: mix(STILL_COST, MERGED_STILL_COST),
    stillLevels: STILL_LEVELS,
    discount: STEP_DISCOUNT,
    least: LEAST_STEP_COST,
    candidates: CANDIDATE_SHARES.map((share, n) => mix(share, MERGED_CANDIDATE_SHARES[n])),
  };
}

export function stepCost({ still, stillLevels, discount, least }: RedrawCosts, levels: number): number {
  if (levels <= stillLevels) return still;
  return Math.max(least, 1 - discount * (levels - stillLevels));
}
