import Joi from 'joi';

/** The least and the most that a number may be. */
export interface Bounds {
  readonly min: number;
  readonly max: number;
}

/** A whole number within bounds, which must be there. */
export const whole = ({ min, max }: Bounds) => Joi.number().integer().min(min).max(max).required();

/** A number within bounds, which must be there. */
export const real = ({ min, max }: Bounds) => Joi.number().min(min).max(max).required();
