import type { DitherName } from '@muted-pond/core/palette';

/** What each dither is called on the screen. */
export const DITHER_LABELS: Record<DitherName, string> = {
  none: 'None',
  'floyd-steinberg': 'Floyd–Steinberg',
  bayer: 'Bayer',
  'blue-noise': 'Blue noise',
};
