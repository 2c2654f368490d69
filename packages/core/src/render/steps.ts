import { encodeGif } from '../gif/index.js';
import { buildPalette, mapColours, type Rgb } from '../palette/index.js';
import { createResizer, type PixelFrame, type Size, sizeForWidth } from '../pixels/index.js';
import type { Recipe, WeighSettings } from '../recipe/index.js';
import { type StripCrew, settle } from '../settle/index.js';
import { type FrameTimes, makeReel, type Reel } from '../timing/index.js';

/**
 * Changes whenever the same recipe and sources would give other bytes: kept trials of an older version
 * are then made anew.
 */
export const ENGINE_VERSION = 1;

/** What is being done, for progress. `done` is 0–1 over the whole. */
export interface RenderProgress {
  readonly step: 'settle' | 'palette' | 'dither' | 'write';
  readonly done: number;
}

/** The recipe's reel and the size it is shown in: which frames to decode, and how large. */
export interface RenderPlan {
  readonly reel: Reel;
  readonly size: Size;
}

export function planRender(recipe: Recipe, times: FrameTimes, source: Size): RenderPlan {
  return {
    reel: makeReel(times, recipe.span, recipe.weigh.frameRate),
    size: sizeForWidth(source, recipe.weigh.width),
  };
}

/** Source frames to composed frames, in the order of the reel: the steps before the file. */
export function createComposer(source: Size, plan: RenderPlan): (frame: PixelFrame) => PixelFrame {
  const resizer = createResizer(source, plan.size);
  return (frame) => resizer.resize(frame);
}

export interface RenderedGif {
  readonly bytes: Uint8Array;
  readonly frameBytes: readonly number[];
  readonly palette: readonly Rgb[];
}

/**
 * Composed frames to a finished GIF. The frames are used up: settling works in place. Keep a copy to
 * measure likeness against.
 * @param crew who settles; alone if nobody is given.
 */
export function renderGif(
  frames: readonly PixelFrame[],
  reel: Reel,
  settings: WeighSettings,
  plays: number,
  onProgress: (progress: RenderProgress) => void = () => {},
  crew?: StripCrew,
): RenderedGif {
  onProgress({ step: 'settle', done: 0 });
  const settled = settle(frames, settings.settle, crew);
  onProgress({ step: 'palette', done: 0.45 });
  // One entry is kept for "unchanged" as soon as there is more than one frame.
  const room = frames.length > 1 ? 255 : 256;
  const palette = buildPalette(settled, Math.min(settings.colors, room));
  onProgress({ step: 'dither', done: 0.55 });
  const planned = mapColours(settled, palette, settings.dither, settings.ditherStrength);
  const gif = encodeGif(planned, {
    delaysCs: reel.map((pick) => pick.delayCs),
    plays,
    squeeze: settings.squeeze,
    onProgress: (done) => onProgress({ step: 'write', done: 0.7 + 0.3 * done }),
  });
  return { ...gif, palette };
}
