import type { DitherName, PalettePlan } from '@muted-pond/core/palette';

/** What each dither is called on the screen. */
export const DITHER_LABELS: Record<DitherName, string> = {
  none: 'None',
  'floyd-steinberg': 'Floyd–Steinberg',
  bayer: 'Bayer',
  'blue-noise': 'Blue noise',
};

/** And each way to have palettes. */
export const PALETTE_LABELS: Record<PalettePlan, string> = {
  auto: 'As many as pay',
  loop: 'One for the loop',
  frame: 'One for each frame',
};
