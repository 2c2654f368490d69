import Joi from 'joi';
import { SAVING_FAMILIES, type SavingFamily } from '../derived/index.js';
import { FILE_KIND_IDS } from '../files/index.js';
import type { Limit, Recipe } from '../recipe/index.js';
import { RECIPE_LIMITS, recipeSchema } from '../recipe/index.js';
import type { WeaveAdviceAsk } from '../render/index.js';
import { lineText } from '../schema/index.js';
import { FOLLOW_WAYS, type FollowWay } from './follow-views.js';

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
  /** What is to be seen, for who does not see it; as it was where it is left out. */
  readonly about?: string;
  readonly recipe: Recipe;
}

/** Something that is to be made or measured of a recipe. */
export interface OfRecipe {
  readonly recipe: Recipe;
}

/** The longest alternative text, in UTF-16 units. */
export const MOST_ABOUT = 500;

const pieceName = lineText({ min: 1, max: 120 });

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
  about: lineText({ min: 0, max: MOST_ABOUT }).allow(''),
  recipe: recipeSchema.required(),
});

export const ofRecipeSchema = Joi.object<OfRecipe>({ recipe: recipeSchema.required() });

const seconds = Joi.number().min(0).max(3600).required();

export const weaveAskSchema = Joi.object<WeaveAdviceAsk>({
  recipe: recipeSchema.required(),
  length: Joi.object({ min: seconds, max: seconds.min(Joi.ref('min')) }).required(),
  within: Joi.valid('span', 'around').required(),
});

/** A veil of a recipe is to follow what it hides, from a frame on. */
export interface FollowRequest extends OfRecipe {
  readonly veil: string;
  readonly frame: number;
  readonly way: FollowWay;
}

export const followRequestSchema = Joi.object<FollowRequest>({
  recipe: recipeSchema.required(),
  veil: Joi.string().min(1).max(40).required(),
  frame: Joi.number().integer().min(0).required(),
  way: Joi.string()
    .valid(...FOLLOW_WAYS)
    .required(),
});

/** What would make a recipe's file lighter is to be tried. */
export interface SavingsRequest extends OfRecipe {
  readonly of: SavingFamily;
}

export const savingsRequestSchema = Joi.object<SavingsRequest>({
  recipe: recipeSchema.required(),
  of: Joi.string()
    .valid(...SAVING_FAMILIES)
    .required(),
});

/** A limit without its id, which the server gives. */
export type LimitValues = Omit<Limit, 'id'>;

const side = Joi.number().integer().min(RECIPE_LIMITS.width.min).max(RECIPE_LIMITS.side.max);

const limitFields = {
  name: lineText({ min: 1, max: 60 }).required(),
  width: side.required(),
  height: side.allow(null).required(),
  bytes: Joi.number().integer().min(1000).max(1e9).required(),
  seconds: Joi.number().min(0.1).max(3600).allow(null).required(),
  frameRate: Joi.number()
    .min(RECIPE_LIMITS.frameRate.min)
    .max(RECIPE_LIMITS.frameRate.max)
    .allow(null)
    .required(),
  alpha: Joi.boolean().required(),
  kinds: Joi.array()
    .items(Joi.string().valid(...FILE_KIND_IDS))
    .min(1)
    .unique()
    .allow(null)
    .default(null),
};

export const limitSchema = Joi.object<LimitValues>(limitFields);

/** Asks for files of a recipe under a limit. */
export interface FitRequest {
  readonly recipe: Recipe;
  readonly limit: LimitValues;
}

export const fitRequestSchema = Joi.object<FitRequest>({
  recipe: recipeSchema.required(),
  limit: limitSchema.required(),
});

/** What one may change of a trial; the rest is measured. */
export interface TrialChange {
  /** Pinned trials are never thrown away by themselves. */
  readonly pinned?: boolean;
  readonly name?: string | null;
}

export const trialChangeSchema = Joi.object<TrialChange>({
  pinned: Joi.boolean(),
  name: lineText({ min: 1, max: 40 }).allow(null),
}).min(1);
