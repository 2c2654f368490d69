import {
  colourDistance,
  type ParallelJob,
  type PixelFrame,
  type Rgb,
  SINGLE_THREAD,
  type ThreadPool,
} from '../pixels/index.js';
import { CHROMA_SHARES, type SettledReel } from '../settle/index.js';
import type { DitherContext } from './dithers/dither.js';
import { DITHERS, type DitherName } from './dithers/index.js';
import { startFastMapping } from './fast-nearest.js';
import { createNearestColour } from './nearest.js';
import type { ReelPalettes } from './plan-palettes.js';

/**
 * A settled reel in palette indices: `plans[f][p]` holds where `durations[f][p] > 0`, in the frame's own
 * palette.
 */
export interface PlannedReel extends SettledReel, ReelPalettes {
  readonly width: number;
  readonly height: number;
  readonly plans: readonly Uint8Array[];
}

/** Frames to be put into palette indices, one a part. */
export interface MapWork extends ParallelJob<'map'>, ReelPalettes {
  readonly frames: readonly PixelFrame[];
  readonly durations: readonly Uint16Array[];
  /** What is written. */
  readonly plans: readonly Uint8Array[];
  readonly dither: DitherName;
  /** 0–100. */
  readonly strength: number;
  /** What differences of colour count at each pixel, see Masking. */
  readonly chroma: Uint8Array;
}

/**
 * Chooses the palette index of every segment. A dither leaves the colours it aimed at in the frames.
 * @param strength 0–100 per cent of the dither's full effect.
 * @param threads who does it; with more threads than one, the reel's arrays must lie in memory from its
 * `allocate`.
 */
export function mapColours(
  reel: SettledReel,
  palettes: ReelPalettes,
  dither: DitherName,
  strength: number,
  threads: ThreadPool = SINGLE_THREAD,
): PlannedReel {
  const { frames, durations, chroma } = reel;
  const { width, height } = frames[0];
  const plans = frames.map(() => new Uint8Array(threads.allocate(width * height)));
  const work: MapWork = { kind: 'map', ...palettes, frames, durations, plans, dither, strength, chroma };
  threads.run(work, frames.length, startMapping);
  return { ...reel, ...palettes, width, height, plans };
}

/** Palettes whose answers one thread remembers at once. */
const MOST_CONTEXTS = 8;

/** What one thread maps frames with. @param isPlain whether no kernel is used. */
export function startMapping(work: MapWork, isPlain = false): (frame: number) => void {
  const { frames, durations, plans, palettes, paletteOf, strength, chroma } = work;
  const dither = strength > 0 ? work.dither : 'none';
  const fast = dither === 'none' && !isPlain ? startFastMapping(chroma) : null;
  if (fast) {
    let map = fast(palettes[paletteOf[0]]);
    let mapped = paletteOf[0];
    return (f) => {
      if (paletteOf[f] !== mapped) map = fast(palettes[paletteOf[f]]);
      mapped = paletteOf[f];
      map(frames[f].rgba, durations[f], plans[f]);
    };
  }
  const apply = DITHERS[dither];
  const contexts = new Map<number, DitherContext>();
  return (f) => {
    let context = contexts.get(paletteOf[f]);
    if (!context) {
      const palette = palettes[paletteOf[f]];
      const spacing = paletteSpacing(palette);
      const byChroma = CHROMA_SHARES.map((share) => createNearestColour(palette, share));
      const nearestAt = (pixel: number) => byChroma[chroma[pixel]];
      context = { palette, nearestAt, strength: strength / 100, spacing };
      // Each has a table of answers; where every frame has a palette of its own, none is asked twice.
      if (contexts.size >= MOST_CONTEXTS) contexts.clear();
      contexts.set(paletteOf[f], context);
    }
    apply(frames[f], durations[f], plans[f], context);
  };
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
