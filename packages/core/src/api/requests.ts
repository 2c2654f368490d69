import Joi from 'joi';
import type { Recipe } from '../recipe/index.js';
import { RECIPE_LIMITS, recipeSchema } from '../recipe/index.js';

/** Exactly one of `footage` and `stills`. */
export interface NewPiece {
  /** A video or an animation, by its id. */
  readonly footage?: string;
  /** Pictures by their ids, in their order. */
  readonly stills?: readonly string[];
  readonly name?: string;
}

export interface PieceSave {
  /** The revision this was made from. */
  readonly revision: number;
  readonly name: string;
  readonly recipe: Recipe;
}

/** Something that is to be made or measured of a recipe. */
export interface OfRecipe {
  readonly recipe: Recipe;
}

const pieceName = Joi.string().trim().min(1).max(120);

const footageId = Joi.string().pattern(/^[0-9a-f]{64}$/);

export const newPieceSchema = Joi.object<NewPiece>({
  footage: footageId,
  stills: Joi.array()
    .items(footageId.required())
    .min(RECIPE_LIMITS.pictures.min)
    .max(RECIPE_LIMITS.pictures.max),
  name: pieceName,
}).xor('footage', 'stills');

export const pieceSaveSchema = Joi.object<PieceSave>({
  revision: Joi.number().integer().min(0).required(),
  name: pieceName.required(),
  recipe: recipeSchema.required(),
});

export const ofRecipeSchema = Joi.object<OfRecipe>({ recipe: recipeSchema.required() });
