import { bayer } from './bayer.js';
import { blueNoise } from './blue-noise.js';
import type { Dither } from './dither.js';
import { floydSteinberg } from './floyd-steinberg.js';
import { none } from './none.js';

/** Every dither by its name in a recipe. A new one is a file beside these and a line here. */
export const DITHERS = {
  none,
  'floyd-steinberg': floydSteinberg,
  bayer,
  'blue-noise': blueNoise,
} as const satisfies Record<string, Dither>;

export type DitherName = keyof typeof DITHERS;

export const DITHER_NAMES = Object.keys(DITHERS) as DitherName[];
