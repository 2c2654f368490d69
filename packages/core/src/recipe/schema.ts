import Joi from 'joi';
import { DITHER_NAMES } from '../palette/index.js';
import { RECIPE_VERSION, type Recipe, type WeighSettings } from './recipe.js';

/** Bounds of every number in a recipe: one list for the schema, the interface and the command line. */
export const RECIPE_LIMITS = {
  width: { min: 16, max: 1920 },
  frameRate: { min: 1, max: 50 },
  colors: { min: 2, max: 256 },
  ditherStrength: { min: 0, max: 100 },
  settle: { min: 0, max: 100 },
  squeeze: { min: 0, max: 100 },
  plays: { min: 0, max: 65535 },
} as const;

type Bounds = { readonly min: number; readonly max: number };

const whole = ({ min, max }: Bounds) => Joi.number().integer().min(min).max(max).required();
const real = ({ min, max }: Bounds) => Joi.number().min(min).max(max).required();

export const weighSchema = Joi.object<WeighSettings>({
  width: whole(RECIPE_LIMITS.width),
  frameRate: real(RECIPE_LIMITS.frameRate),
  colors: whole(RECIPE_LIMITS.colors),
  dither: Joi.string()
    .valid(...DITHER_NAMES)
    .required(),
  ditherStrength: real(RECIPE_LIMITS.ditherStrength),
  settle: real(RECIPE_LIMITS.settle),
  squeeze: real(RECIPE_LIMITS.squeeze),
});

export const recipeSchema = Joi.object<Recipe>({
  version: Joi.number().valid(RECIPE_VERSION).required(),
  sources: Joi.array()
    .items(
      Joi.object({
        kind: Joi.string().valid('footage').required(),
        hash: Joi.string()
          .pattern(/^[0-9a-f]{64}$/)
          .required(),
      }),
    )
    .length(1)
    .required(),
  span: Joi.object({
    start: Joi.number().integer().min(0).required(),
    end: Joi.number().integer().greater(Joi.ref('start')).required(),
  }).required(),
  plays: whole(RECIPE_LIMITS.plays),
  weigh: weighSchema.required(),
});
