import { startGif } from '../../gif/index.js';
import {
  createColourCounter,
  mapColours,
  type PlannedReel,
  planPalettes,
  type ReelPalettes,
  type SharedColours,
} from '../../palette/index.js';
import {
  hardenEdges,
  type Matte,
  type PixelFrame,
  SINGLE_THREAD,
  type ThreadPool,
} from '../../pixels/index.js';
import { CLEAR_BELOW, settle } from '../../settle/index.js';
import { type Reel, reelCentiseconds } from '../../timing/index.js';
import type { GifSettings } from './settings.js';

/** What is being done, for progress. `done` is 0–1 over the whole. */
export interface RenderProgress {
  readonly step: 'settle' | 'palette' | 'dither' | 'write';
  readonly done: number;
}

/** Part of the price of redrawing that is asked again once it is known which colours are shown. */
const REDRAW_SHARE = 0.5;

/** The delay, in centiseconds, for which settle and squeeze are scaled: 12 frames a second. */
const USUAL_DELAY_CS = 100 / 12;

/**
 * How much longer than usual a frame of the reel is seen. Settle and squeeze weigh an error by the frames it
 * lasts; where frames stay for seconds, as stills do, it is looked at for that much longer, and less of it is
 * allowed.
 */
function slownessOf(reel: Reel): number {
  return Math.max(1, reelCentiseconds(reel) / reel.length / USUAL_DELAY_CS);
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
  /** Who shares the work; alone if nobody is given. */
  readonly threads?: ThreadPool;
}

/** A file being made, part after part of its reel. */
export interface GifRendering {
  /** Takes the next composed frames. They are used up: settling works in place. */
  add(frames: readonly PixelFrame[]): void;
  finish(): RenderedGif;
}

/**
 * From composed frames to a finished GIF: settle, palettes, dither, deltas and LZW, in this order. Each part
 * is settled by itself, so what is held at once is a part; where one ends, what stands still is not drawn
 * again.
 */
export function startRendering(options: RenderOptions): GifRendering {
  const {
    reel,
    settings,
    matte = 'transparent',
    plays,
    counts = true,
    onProgress = () => {},
    threads = SINGLE_THREAD,
  } = options;
  const patience = Math.sqrt(slownessOf(reel));
  const price = settings.settle / patience;
  const gif = startGif({
    delaysCs: reel.map((pick) => pick.delayCs),
    plays,
    squeeze: settings.squeeze / patience,
    redrawPrice: price * REDRAW_SHARE,
    clearsBetweenParts: options.isOpaque === false,
    onProgress: (done) => onProgress({ step: 'write', done }),
  });
  const counter = createColourCounter();
  let colors = 0;
  const tables = new Set<string>();
  let frames = 0;
  // One entry is kept for "unchanged" and "clear" as soon as either can be.
  const paletteOptions = (isClear: boolean) => ({
    plan: settings.palette,
    colours: Math.min(settings.colors, reel.length > 1 || isClear ? 255 : 256),
    chosen: settings,
    bytePrice: price * price,
  });
  const sampled = options.sample && settle(options.sample, 0, SINGLE_THREAD, options.isOpaque);
  const fixed =
    sampled && planPalettes(sampled, { ...paletteOptions(sampled.cleared !== null), plan: 'loop' });

  function plan(part: readonly PixelFrame[]): PlannedReel {
    const doneUntil = (share: number) => (frames + part.length * share) / reel.length;
    onProgress({ step: 'settle', done: doneUntil(0) });
    if (matte !== 'transparent') {
      for (const frame of part) hardenEdges(frame, matte, CLEAR_BELOW);
    }
    const settled = settle(part, price, threads, options.isOpaque);
    onProgress({ step: 'palette', done: doneUntil(0.45) });
    const palettes: ReelPalettes = fixed
      ? { ...fixed, paletteOf: part.map(() => 0) }
      : planPalettes(settled, paletteOptions(settled.cleared !== null), threads);
    onProgress({ step: 'dither', done: doneUntil(0.55) });
    return mapColours(settled, palettes, settings.dither, settings.ditherStrength, threads);
  }

  return {
    add(part) {
      const planned = plan(part);
      frames += part.length;
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
