import { UNDRESSED } from '../dress/index.js';
import { DEFAULT_KIND_SETTINGS, FIRST_KIND } from '../files/index.js';
import { PLAIN_LOOP } from '../loop/index.js';
import { MIDDLE, type Size, sizeWithin } from '../pixels/index.js';
import { NOTHING_HELD } from '../still/index.js';
import { evenRateNear, type FrameTimes, frameAt } from '../timing/index.js';
import { WHOLE_PICTURE } from './framing.js';
import { RECIPE_VERSION, type Recipe, type WeighSettings } from './recipe.js';
import type { StillPicture } from './source.js';
import type { SourceFile } from './take.js';

/** Frames a second that most loops do well with. */
const USUAL_RATE = 12;

export const DEFAULT_WEIGH: WeighSettings = {
  width: 480,
  frameRate: USUAL_RATE,
  matte: 'transparent',
  kind: FIRST_KIND,
  ...DEFAULT_KIND_SETTINGS,
};

/** Longest side of a canvas that is proposed, px. */
const PROPOSED_CANVAS = 1920;
const PROPOSED_DELAY_CS = 200;

/**
 * A new piece over a video: its first three seconds, or all of it if it is shorter, at an even rate near the
 * usual one.
 */
export function newRecipe(hash: string, times: FrameTimes): Recipe {
  const end = times.duration <= 3 ? times.starts.length : Math.max(1, frameAt(times, 3));
  return {
    version: RECIPE_VERSION,
    sources: [{ kind: 'footage', hash, every: 1 }],
    span: { start: 0, end },
    framing: WHOLE_PICTURE,
    loop: PLAIN_LOOP,
    still: NOTHING_HELD,
    dress: UNDRESSED,
    plays: 0,
    weigh: { ...DEFAULT_WEIGH, frameRate: evenRateNear(times, USUAL_RATE) },
  };
}

/** A new piece over an animation: all of it, at its own pace, as often as it says. */
export function newAnimationRecipe(hash: string, times: FrameTimes, plays: number): Recipe {
  return {
    ...newRecipe(hash, times),
    span: { start: 0, end: times.starts.length },
    plays,
    weigh: { ...DEFAULT_WEIGH, frameRate: 'source' },
  };
}

/** A new piece over pictures in their order, on a canvas of the largest one's size. */
export function newStillsRecipe(pictures: readonly SourceFile[]): Recipe {
  return {
    version: RECIPE_VERSION,
    sources: [
      {
        kind: 'stills',
        pictures: pictures.map(({ hash }) => newStillPicture(hash)),
        canvas: canvasFor(pictures.map((picture) => picture.size)),
        fit: 'contain',
        matte: '#ffffff',
        delayCs: PROPOSED_DELAY_CS,
      },
    ],
    span: { start: 0, end: pictures.length },
    framing: WHOLE_PICTURE,
    loop: PLAIN_LOOP,
    still: NOTHING_HELD,
    dress: UNDRESSED,
    plays: 0,
    weigh: { ...DEFAULT_WEIGH, frameRate: 'source' },
  };
}

export function newStillPicture(hash: string): StillPicture {
  return { hash, fit: null, focus: MIDDLE };
}

/** The size of the picture with the most pixels, made smaller where it is very large. */
export function canvasFor(sizes: readonly Size[]): Size {
  const largest = sizes.reduce((best, size) =>
    size.width * size.height > best.width * best.height ? size : best,
  );
  return sizeWithin(largest, PROPOSED_CANVAS);
}
