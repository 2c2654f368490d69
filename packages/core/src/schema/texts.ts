import Joi from 'joi';

/** sRGB, #rrggbb in small letters. */
export type HexColour = string;

export const hexColour = Joi.string()
  .pattern(/^#[0-9a-f]{6}$/)
  .required();

/** SHA-256 in small letters: the name of a kept file. */
export const hashText = Joi.string()
  .pattern(/^[0-9a-f]{64}$/)
  .required();

/** Tells entries of a list apart. */
export const idText = Joi.string().min(1).max(40).required();

/** A name that people give. */
export const nameText = Joi.string().min(1).max(80).required();
