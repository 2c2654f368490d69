export { DEFAULT_WEIGH, newRecipe } from './defaults.js';
export { type RecipeReading, readRecipe } from './migrate.js';
export { QUALITIES, QUALITY_NAMES, type QualityName } from './quality.js';
export { type FootageSource, RECIPE_VERSION, type Recipe, type WeighSettings } from './recipe.js';
export { RECIPE_LIMITS, recipeSchema, weighSchema } from './schema.js';
