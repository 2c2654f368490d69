import { startGif } from '../../gif/index.js';
import { createColourCounter, type SharedColours } from '../../palette/index.js';
import type { Matte, PixelFrame, ThreadPool } from '../../pixels/index.js';
import type { FirstLook } from '../../settle/index.js';
import type { Reel } from '../../timing/index.js';
import { patienceOf, type RenderProgress, startPlanning } from '../plan-colours.js';
import type { GifSettings } from './settings.js';

/** Part of the price of redrawing that is asked again once it is known which colours are shown. */
const REDRAW_SHARE = 0.5;

/** From this share of settle on, squeeze merges what is drawn side by side as far as it can. */
const FULL_MERGING = 0.7;

function mergingOf({ settle, squeeze }: GifSettings): number {
  return settle > 0 ? Math.min(1, squeeze / settle / FULL_MERGING) : 0;
}

export interface RenderedGif {
  readonly bytes: Uint8Array;
  readonly frameBytes: readonly number[];
  /** Colours in the largest palette. */
  readonly colors: number;
  /** How many palettes there are. */
  readonly palettes: number;
  /** Empty where they were not to be counted. */
  readonly colours: SharedColours;
}

export interface RenderOptions {
  readonly reel: Reel;
  readonly settings: GifSettings;
  /** What half-transparent edges are mixed with; their own colours by default. */
  readonly matte?: Matte;
  readonly plays: number;
  /**
   * Whether it is known that every pixel of every frame is opaque; false where some of a reel in parts may be
   * clear.
   */
  readonly isOpaque?: boolean;
  /** Whether the colours' shares are counted. */
  readonly counts?: boolean;
  /** Frames from all over the reel, where it comes in parts and one palette is to serve them all; used up. */
  readonly sample?: readonly PixelFrame[];
  readonly onProgress?: (progress: RenderProgress) => void;
  /** The threads that share the work; this one alone by default. */
  readonly threads?: ThreadPool;
}

/** A file being made, part after part of its reel. */
export interface GifRendering {
  /** See ColourPlanning. */
  look(count: number): FirstLook | null;
  /**
   * Takes the next composed frames. They are used up: settling works in place.
   * @param look what was measured on them as they came.
   */
  add(frames: readonly PixelFrame[], look?: FirstLook | null): void;
  finish(): RenderedGif;
}

/**
 * From composed frames to a finished GIF: settle, palettes, dither, deltas and LZW, in this order. What is
 * held at once is a part; where one ends, what stands still is not drawn again.
 */
export function startRendering(options: RenderOptions): GifRendering {
  const { reel, settings, matte, plays, isOpaque, sample, threads, counts = true } = options;
  const { onProgress = () => {} } = options;
  const patience = patienceOf(reel);
  const price = settings.settle / patience;
  const planning = startPlanning({
    ...{ reel, price, matte, isOpaque, sample, threads, onProgress, chosen: settings },
    colors: settings.colors,
    palette: settings.palette,
    merging: mergingOf(settings),
    dither: settings.dither,
    ditherStrength: settings.ditherStrength,
  });
  const gif = startGif({
    delaysCs: reel.map((pick) => pick.delayCs),
    plays,
    squeeze: settings.squeeze / patience,
    redrawPrice: price * REDRAW_SHARE,
    clearsBetweenParts: isOpaque === false,
    isInterlaced: settings.interlaced,
    isDithered: settings.dither !== 'none' && settings.ditherStrength > 0,
    threads,
    onProgress: (done) => onProgress({ step: 'write', done }),
  });
  const counter = createColourCounter();
  let colors = 0;
  const tables = new Set<string>();

  return {
    look: planning.look,
    add(part, look) {
      const planned = planning.plan(part, look);
      gif.add(planned);
      if (counts) counter.add(planned);
      for (const palette of planned.palettes) {
        colors = Math.max(colors, palette.length);
        tables.add(palette.join());
      }
    },
    finish: () => ({ ...gif.finish(), colors, palettes: tables.size, colours: counter.result() }),
  };
}

/** The whole reel at once. The frames are used up; keep a copy to measure likeness against. */
export function renderGif(frames: readonly PixelFrame[], options: RenderOptions): RenderedGif {
  const rendering = startRendering(options);
  rendering.add(frames);
  return rendering.finish();
}
