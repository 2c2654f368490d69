import { colourDistance, type Rgb } from '../pixels/index.js';
import type { SettledReel } from '../settle/index.js';
import { DITHERS, type DitherName } from './dithers/index.js';
import { createNearestColour } from './nearest.js';

/** A settled reel in palette indices: `plans[f][p]` holds where `durations[f][p] > 0`. */
export interface PlannedReel {
  readonly width: number;
  readonly height: number;
  readonly palette: readonly Rgb[];
  readonly plans: readonly Uint8Array[];
  readonly durations: readonly Uint16Array[];
  /** Where pixels go out of sight; see SettledReel. */
  readonly cleared: readonly Uint8Array[] | null;
  /** How much error each pixel hides, from 1 upwards; see SettledReel. */
  readonly masking: Float32Array;
}

/**
 * Chooses the palette index of every segment.
 * @param strength 0–100 per cent of the dither's full effect.
 */
export function mapColours(
  reel: SettledReel,
  palette: readonly Rgb[],
  dither: DitherName,
  strength: number,
): PlannedReel {
  const { width, height } = reel.frames[0];
  const context = {
    palette,
    nearest: createNearestColour(palette),
    strength: strength / 100,
    spacing: paletteSpacing(palette),
  };
  const apply = DITHERS[dither];
  const plans = reel.frames.map((frame, f) => {
    const plan = new Uint8Array(width * height);
    apply(frame, reel.durations[f], plan, context);
    return plan;
  });
  const { durations, cleared, masking } = reel;
  return { width, height, palette, plans, durations, cleared, masking };
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
