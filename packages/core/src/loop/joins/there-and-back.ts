import Joi from 'joi';
import type { Join } from './join.js';

export interface ThereAndBack {
  readonly kind: 'there-and-back';
}

/**
 * Forwards, then backwards: what lies between the last frame and the first is shown again, reversed; neither
 * end is shown twice.
 */
export const thereAndBack: Join<ThereAndBack> = {
  kind: 'there-and-back',
  label: 'There & back',
  schema: Joi.object<ThereAndBack>({ kind: Joi.valid('there-and-back').required() }),
  length: null,
  over: () => ({ kind: 'there-and-back' }),
  framesOf: () => 0,
  turns: true,
  isLed: false,
  follows: 'none',
  longest: () => 0,
  apply: (reel) => reel,
  back: (there) => there.slice(1, -1).reverse(),
  ownReelFrame: (_, at, { within, lastStart }) => within(lastStart * (at <= 0.5 ? 2 * at : 2 - 2 * at)),
  ownSeconds: ({ lastStart }) => 2 * lastStart,
  candidates: () => [{ kind: 'there-and-back' }],
  reason: 'at-rest',
  words: () => 'there and back',
  note: ({ added }) => `: ${added} more for the way back.`,
  lacking: () => null,
};
