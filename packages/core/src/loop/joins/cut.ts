import Joi from 'joi';
import type { Join } from './join.js';

export interface Cut {
  readonly kind: 'cut';
}

/** The last frame is followed by the first. */
export const cut: Join<Cut> = {
  kind: 'cut',
  label: 'Cut',
  schema: Joi.object<Cut>({ kind: Joi.valid('cut').required() }),
  length: null,
  over: () => ({ kind: 'cut' }),
  framesOf: () => 0,
  turns: false,
  isLed: false,
  follows: 'first',
  longest: () => 0,
  apply: (reel) => reel,
  back: () => [],
  ownReelFrame: (_, at, { within, seconds }) => within(at * seconds),
  ownSeconds: ({ seconds }) => seconds,
  candidates: () => [{ kind: 'cut' }],
  reason: 'meets',
  words: () => 'a plain cut',
  note: () => '.',
  lacking: () => null,
};
