export { changeWeigh, type WeighChange } from './change-weigh.js';
export {
  canvasFor,
  DEFAULT_WEIGH,
  newAnimationRecipe,
  newRecipe,
  newStillPicture,
  newStillsRecipe,
} from './defaults.js';
export { type Box, type Framing, framedSize, seenPart, seenShare, WHOLE_PICTURE } from './framing.js';
export { checkLimit, type Limit, type LimitedFile, type Overrun } from './limits.js';
export { MOST_TOLD_WHOLE, type RecipeReading, readRecipe } from './migrate.js';
export {
  layerHashes,
  RECIPE_VERSION,
  type Recipe,
  type SharedWeigh,
  sourceHashes,
  type WeighSettings,
} from './recipe.js';
export {
  type RecipeOver,
  type Retargeted,
  type RetargetNote,
  retarget,
  SETTINGS,
  type SettingsPart,
} from './retarget.js';
export { RECIPE_LIMITS, recipeSchema, weighSchema } from './schema.js';
export type { FootageSource, Source, StillPicture, StillsSource } from './source.js';
export { type SourceFile, type Take, type TakeFrame, takeOf } from './take.js';
