import Joi from 'joi';
import { plainLine } from './plain-line.js';

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

/**
 * A line that people type. What it may not hold is taken out where it is taken in, whatever sent it; its
 * length counts afterwards, in UTF-16 units.
 */
export const lineText = ({ min, max }: { readonly min: number; readonly max: number }) =>
  Joi.string().custom((typed: string, helpers) => {
    const line = plainLine(typed);
    if (line.length < min) return helpers.error('string.empty');
    return line.length > max ? helpers.error('string.max', { limit: max }) : line;
  });

/** A name that people give. */
export const nameText = lineText({ min: 1, max: 80 }).required();
