import Joi from 'joi';
import { real, whole } from '../../schema/index.js';
import type { Join } from './join.js';
import { framesMissing, WOVEN_LIMITS, type Woven, type WovenTouch } from './woven-settings.js';

const MOST_TOUCHES = 200;
const MOST_POINTS = 2000;

const share = Joi.number().min(-0.5).max(1.5).required();
const touchSchema = Joi.object<WovenTouch>({
  moves: Joi.boolean().required(),
  points: Joi.array().items(Joi.array().ordered(share, share).length(2)).min(1).max(MOST_POINTS).required(),
  radius: Joi.number().min(0.001).max(1).allow(null).required(),
});

const within = (frames: number) =>
  Math.max(WOVEN_LIMITS.frames.min, Math.min(WOVEN_LIMITS.frames.max, frames));

export const woven: Join<Woven> = {
  kind: 'per-pixel',
  name: 'woven',
  label: 'Woven',
  schema: Joi.object<Woven>({
    kind: Joi.valid('per-pixel').required(),
    frames: whole(WOVEN_LIMITS.frames),
    liveliness: real(WOVEN_LIMITS.liveliness),
    plate: Joi.number().integer().min(0).allow(null).required(),
    steady: Joi.boolean().required(),
    touches: Joi.array().items(touchSchema).max(MOST_TOUCHES).required(),
  }),
  length: null,
  over: (frames) => ({
    kind: 'per-pixel',
    frames: within(frames || WOVEN_LIMITS.frames.usual),
    liveliness: WOVEN_LIMITS.liveliness.usual,
    plate: null,
    steady: true,
    touches: [],
  }),
  framesOf: () => 0,
  turns: false,
  isLed: false,
  follows: 'first',
  longest: () => 0,
  missing: ({ frames }, span) => framesMissing(span, frames),
  // Where the span is too short, it is shown as it is, and that is told.
  round: ({ frames }, span) =>
    framesMissing(span, frames) > 0 ? span : { start: span.start, end: span.start + frames },
  woven: (settings) => settings,
  apply: (reel, settings, { span, weave }) =>
    framesMissing(span, settings.frames) > 0 ? reel : reel.map((pick) => ({ ...pick, woven: weave })),
  back: () => [],
  ownReelFrame: (_, at, { within, seconds }) => within(at * seconds),
  ownSeconds: ({ seconds }) => seconds,
  candidates: () => [],
  reason: 'woven',
  words: () => 'every part in its own time',
  note: () => '.',
  lacking: () => null,
  carry: (settings, span, at, arePlacesAlike) => ({
    ...settings,
    frames: within(at(span.start + settings.frames) - at(span.start)),
    plate: settings.plate === null ? null : at(settings.plate),
    touches: arePlacesAlike ? settings.touches : [],
  }),
};
