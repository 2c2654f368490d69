import { encodeGif } from '../gif/index.js';
import { type LoopReel, makeLoop } from '../loop/index.js';
import { mapColours, planPalettes, type SharedColours, shareColours } from '../palette/index.js';
import type { Crew, PixelFrame, Size } from '../pixels/index.js';
import type { Recipe, Take, WeighSettings } from '../recipe/index.js';
import { settle } from '../settle/index.js';
import { type MovingLayer, movingLayers, type Plate, type StillSettings } from '../still/index.js';
import { type Reel, reelCentiseconds } from '../timing/index.js';
import { type Composition, composedSize } from './compose.js';

/**
 * Changes whenever the same recipe and sources would give other bytes: kept trials of an older version
 * are then made anew.
 */
export const ENGINE_VERSION = 5;

/** What is being done, for progress. `done` is 0–1 over the whole. */
export interface RenderProgress {
  readonly step: 'settle' | 'palette' | 'dither' | 'write';
  readonly done: number;
}

/** Still settings with a plate, and what moves over it. */
export type HeldStill = StillSettings & { readonly plate: Plate; readonly layers: readonly MovingLayer[] };

/** The recipe's reel, and how each of its pictures becomes a frame. */
export interface RenderPlan {
  readonly reel: Reel;
  readonly size: Size;
  /** What is held; null where the whole picture moves. */
  readonly still: HeldStill | null;
  /** How a frame of the take is composed. */
  composition(frame: number): Composition;
}

/** The loop of a recipe: its reel, and what became of what was asked for. */
export function loopOf(recipe: Recipe, take: Pick<Take, 'times'>): LoopReel {
  const [source] = recipe.sources;
  const every = source.kind === 'footage' ? source.every : 1;
  return makeLoop(take.times, recipe.span, recipe.weigh.frameRate, every, recipe.loop);
}

/** What moves over the plate, layer by layer; none where nothing is held. */
export function layersOf({ still }: Recipe, loop: LoopReel, { times }: Pick<Take, 'times'>): MovingLayer[] {
  return still.plate ? movingLayers(still.ripples, loop.reel, loop.round, times) : [];
}

export function planRender(recipe: Recipe, take: Take): RenderPlan {
  const [source] = recipe.sources;
  const { framing, still, weigh } = recipe;
  const loop = loopOf(recipe, take);
  const size = composedSize(take.size, framing, weigh.width);
  return {
    reel: loop.reel,
    size,
    still: still.plate ? { ...still, plate: still.plate, layers: layersOf(recipe, loop, take) } : null,
    composition: (frame) => ({
      canvas: take.size,
      placement: take.frame(frame).placement,
      matte: source.kind === 'stills' ? source.matte : 'transparent',
      framing,
      size,
    }),
  };
}

/** Part of the price of redrawing that is asked again once it is known which colours are shown. */
const HOLD_SHARE = 0.5;

/** The delay, in centiseconds, for which settle and squeeze are scaled: 12 frames a second. */
const USUAL_DELAY_CS = 100 / 12;

/**
 * How much longer than usual a frame of the reel is seen. Settle and squeeze weigh an error by the frames it lasts; where
 * frames stay for seconds, as stills do, it is looked at for that much longer, and less of it is allowed.
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
  /** All colours of all palettes, counted when asked for. */
  colours(): SharedColours;
}

/**
 * Composed frames to a finished GIF. The frames are used up: settling works in place. Keep a copy to
 * measure likeness against.
 * @param crew who shares the work; alone if nobody is given.
 */
export function renderGif(
  frames: readonly PixelFrame[],
  reel: Reel,
  settings: WeighSettings,
  plays: number,
  onProgress: (progress: RenderProgress) => void = () => {},
  crew?: Crew,
): RenderedGif {
  onProgress({ step: 'settle', done: 0 });
  const patience = Math.sqrt(slownessOf(reel));
  const settled = settle(frames, settings.settle / patience, crew);
  onProgress({ step: 'palette', done: 0.45 });
  // One entry is kept for "unchanged" and "clear" as soon as either can be.
  const room = frames.length > 1 || settled.cleared ? 255 : 256;
  const price = settings.settle / patience;
  const palettes = planPalettes(settled, {
    plan: settings.palette,
    colours: Math.min(settings.colors, room),
    chosen: settings,
    bytePrice: price * price,
  });
  onProgress({ step: 'dither', done: 0.55 });
  const planned = mapColours(settled, palettes, settings.dither, settings.ditherStrength, crew);
  const gif = encodeGif(planned, {
    delaysCs: reel.map((pick) => pick.delayCs),
    plays,
    squeeze: settings.squeeze / patience,
    hold: price * HOLD_SHARE,
    onProgress: (done) => onProgress({ step: 'write', done: 0.7 + 0.3 * done }),
  });
  const tables = palettes.palettes.map((palette) => palette.length);
  return {
    ...gif,
    colors: Math.max(...tables),
    palettes: tables.length,
    colours: () => shareColours(planned),
  };
}
