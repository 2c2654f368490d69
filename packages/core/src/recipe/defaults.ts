import { type FrameTimes, frameAt } from '../timing/index.js';
import { QUALITIES } from './quality.js';
import { RECIPE_VERSION, type Recipe, type WeighSettings } from './recipe.js';

export const DEFAULT_WEIGH: WeighSettings = {
  width: 480,
  frameRate: 12,
  colors: 256,
  dither: 'floyd-steinberg',
  ditherStrength: 50,
  ...QUALITIES.balanced,
};

/** A new piece over one footage: its first three seconds, or all of it if it is shorter. */
export function newRecipe(hash: string, times: FrameTimes): Recipe {
  const end = times.duration <= 3 ? times.starts.length : Math.max(1, frameAt(times, 3));
  return {
    version: RECIPE_VERSION,
    sources: [{ kind: 'footage', hash }],
    span: { start: 0, end },
    plays: 0,
    weigh: DEFAULT_WEIGH,
  };
}
