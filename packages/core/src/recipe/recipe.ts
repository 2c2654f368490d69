import type { LoopSettings } from '../loop/index.js';
import type { ChosenColours, DitherName, PalettePlan } from '../palette/index.js';
import type { Matte } from '../pixels/index.js';
import type { StillSettings } from '../still/index.js';
import type { FrameRate, Span } from '../timing/index.js';
import type { Framing } from './framing.js';
import type { Source } from './source.js';

/** The version of the document that this code writes. */
export const RECIPE_VERSION = 7;

/** How the reel is made into a light file. */
export interface WeighSettings extends ChosenColours {
  /** Width of the picture in pixels, 16–1920; a source is never enlarged. */
  readonly width: number;
  /** Frames a second, 1–50; or as the source has them. */
  readonly frameRate: FrameRate;
  /** Palette entries, 2–256. */
  readonly colors: number;
  /** What half-transparent edges are mixed with; `transparent` keeps their own colours. */
  readonly matte: Matte;
  /** How many palettes there are: as many as pay, one, or one for each frame. */
  readonly palette: PalettePlan;
  readonly dither: DitherName;
  /** Per cent of the dither's full effect, 0–100. */
  readonly ditherStrength: number;
  /** How much a pixel must change before it is redrawn, in levels, 0–100. */
  readonly settle: number;
  /** How far similar pixel runs may be merged, in levels, 0–100. */
  readonly squeeze: number;
}

/**
 * Every setting of a piece. The result is a pure function of this document and its sources; nothing
 * else may enter.
 */
export interface Recipe {
  readonly version: typeof RECIPE_VERSION;
  /** One source today. */
  readonly sources: readonly Source[];
  /** Whole source frames, end exclusive. */
  readonly span: Span;
  readonly framing: Framing;
  readonly loop: LoopSettings;
  readonly still: StillSettings;
  /** How often the loop is seen: 0 without end, else 1–65535 times. */
  readonly plays: number;
  readonly weigh: WeighSettings;
}

/** The files a recipe is made from, each once. */
export function sourceHashes({ sources }: Recipe): string[] {
  return [
    ...new Set(
      sources.flatMap((source) =>
        source.kind === 'footage' ? [source.hash] : source.pictures.map((picture) => picture.hash),
      ),
    ),
  ];
}
