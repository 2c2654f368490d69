import type { PixelFrame } from '../pixels/index.js';

/** A reel being settled. Both ways of settling a strip read and write the same things. */
export interface StripWork {
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
 * What redrawing costs when this many of the eight neighbours are redrawn too, as a share of the usual: a lone
 * pixel breaks a run of transparent ones and is dear, one among many is cheap.
 */
export const NEIGHBOUR_COST = Float64Array.from([3, 2.2, 1.7, 1.3, 1, 0.85, 0.7, 0.6, 0.5]);
