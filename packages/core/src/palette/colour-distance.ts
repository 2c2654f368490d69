import type { Rgb } from './colour-cube.js';

/** Shares of red, green and blue in luma (BT.601). */
export const LUMA: Rgb = [0.299, 0.587, 0.114];

/** What luma counts besides the channels' own weights. */
export const LUMA_WEIGHT = 2;

/** A colour distance of a difference of one level in all three channels: what a squared level is measured against. */
export const DISTANCE_PER_SQUARED_LEVEL = 2 + 4 + 1 + LUMA_WEIGHT;

/**
 * Weighted squared distance between two sRGB colours: 2ΔR² + 4ΔG² + ΔB² + 4ΔY². The eye sees steps of light before
 * steps of colour.
 */
export function colourDistance(a: Rgb, b: Rgb): number {
  const red = a[0] - b[0];
  const green = a[1] - b[1];
  const blue = a[2] - b[2];
  const luma = LUMA[0] * red + LUMA[1] * green + LUMA[2] * blue;
  return 2 * red * red + 4 * green * green + blue * blue + LUMA_WEIGHT * luma * luma;
}
