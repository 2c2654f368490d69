import { colourDistance, type Rgb } from '../pixels/index.js';
import type { SettledReel } from '../settle/index.js';
import type { DitherContext } from './dithers/dither.js';
import { DITHERS, type DitherName } from './dithers/index.js';
import { createNearestColour } from './nearest.js';
import type { ReelPalettes } from './plan-palettes.js';

/** A settled reel in palette indices: `plans[f][p]` holds where `durations[f][p] > 0`, in the frame's own palette. */
export interface PlannedReel extends SettledReel, ReelPalettes {
  readonly width: number;
  readonly height: number;
  readonly plans: readonly Uint8Array[];
}

/**
 * Chooses the palette index of every segment.
 * @param strength 0–100 per cent of the dither's full effect.
 */
export function mapColours(
  reel: SettledReel,
  palettes: ReelPalettes,
  dither: DitherName,
  strength: number,
): PlannedReel {
  const { width, height } = reel.frames[0];
  const apply = DITHERS[dither];
  let context: DitherContext | null = null;
  const plans = reel.frames.map((frame, f) => {
    const palette = palettes.palettes[palettes.of[f]];
    if (context?.palette !== palette) {
      const spacing = paletteSpacing(palette);
      context = { palette, nearest: createNearestColour(palette), strength: strength / 100, spacing };
    }
    const plan = new Uint8Array(width * height);
    apply(frame, reel.durations[f], plan, context);
    return plan;
  });
  return { ...reel, ...palettes, width, height, plans };
}

/** Mean distance from a palette colour to its nearest other one, in levels; 0 for a single colour. */
export function paletteSpacing(palette: readonly Rgb[]): number {
  if (palette.length < 2) return 0;
  let sum = 0;
  for (const colour of palette) {
    let best = Number.POSITIVE_INFINITY;
    for (const other of palette) {
      if (other !== colour) best = Math.min(best, colourDistance(colour, other));
    }
    sum += Math.sqrt(best);
  }
  return sum / palette.length;
}
