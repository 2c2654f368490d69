import Joi from 'joi';
import type { Recipe } from '../recipe/index.js';
import { recipeSchema } from '../recipe/index.js';

export interface NewPiece {
  /** Footage id. */
  readonly footage: string;
  readonly name?: string;
}

export interface PieceSave {
  /** The revision this was made from. */
  readonly revision: number;
  readonly name: string;
  readonly recipe: Recipe;
}

export interface NewTrial {
  readonly recipe: Recipe;
}

const pieceName = Joi.string().trim().min(1).max(120);

export const newPieceSchema = Joi.object<NewPiece>({
  footage: Joi.string()
    .pattern(/^[0-9a-f]{64}$/)
    .required(),
  name: pieceName,
});

export const pieceSaveSchema = Joi.object<PieceSave>({
  revision: Joi.number().integer().min(0).required(),
  name: pieceName.required(),
  recipe: recipeSchema.required(),
});

export const newTrialSchema = Joi.object<NewTrial>({ recipe: recipeSchema.required() });
