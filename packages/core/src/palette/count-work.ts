import type { SettledReel } from '../settle/index.js';

/** Steps of the histogram along luma, B − Y and R − Y: one level of luma, two of a scaled difference. */
export const LUMA_STEPS = 256;
export const DIFFERENCE_STEPS = 90;
/** A scaled difference lies within ±90: 0.395 × 226 and 0.499 × 179. */
export const MOST_DIFFERENCE = 90;

/**
 * Numbers in a bin's sums: weight, luma times weight, weight of colour, and scaled B − Y and R − Y times that.
 */
export const SUMS = 5;

/** What is counted. */
export type CountedReel = Pick<SettledReel, 'frames' | 'durations' | 'masking' | 'chroma'>;
