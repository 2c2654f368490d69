import { type DressSettings, dressHashes } from '../dress/index.js';
import type { FileKindId, KindSettings } from '../files/index.js';
import type { LoopSettings } from '../loop/index.js';
import type { Matte } from '../pixels/index.js';
import { type StillSettings, stillHashes } from '../still/index.js';
import type { FrameRate, Span } from '../timing/index.js';
import type { Framing } from './framing.js';
import type { Source } from './source.js';

/** The version of the document that this code writes. */
export const RECIPE_VERSION = 10;

/** What every kind of file shares. */
export interface SharedWeigh {
  /** Width of the picture in pixels, 16–1920; a source is never enlarged. */
  readonly width: number;
  /** Frames a second, 1–120, as many as the kind of file can show; or as the source has them. */
  readonly frameRate: FrameRate;
  /** What half-transparent edges are mixed with; `transparent` keeps their own colours. */
  readonly matte: Matte;
  /** The kind of file that is weighed. */
  readonly kind: FileKindId;
}

/** How the reel is made into a light file: what all kinds share, and what each has for itself. */
export type WeighSettings = SharedWeigh & KindSettings;

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
  readonly dress: DressSettings;
  /** How often the loop is seen: 0 without end, else 1–65535 times. */
  readonly plays: number;
  readonly weigh: WeighSettings;
}

/** The files a recipe is made from, each once. */
export function sourceHashes({ sources }: Pick<Recipe, 'sources'>): string[] {
  return [
    ...new Set(
      sources.flatMap((source) =>
        source.kind === 'footage' ? [source.hash] : source.pictures.map((picture) => picture.hash),
      ),
    ),
  ];
}

/** Masks, plates, tables, fonts and emblems that a recipe names, each once. */
export function layerHashes({ still, dress }: Recipe): string[] {
  return [...new Set([...stillHashes(still), ...dressHashes(dress)])];
}
