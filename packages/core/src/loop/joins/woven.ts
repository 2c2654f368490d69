import Joi from 'joi';
import { real, whole } from '../../schema/index.js';
import type { Span } from '../../timing/index.js';
import { seamScore } from '../seam-score.js';
import type { Join } from './join.js';

/** Holds something, or sets it free, whatever the solver would do. */
export interface WovenTouch {
  readonly moves: boolean;
  /** Where the hand went, in shares of the take's width and height. */
  readonly points: readonly (readonly [x: number, y: number])[];
  /** Half the width of the stroke, in shares of the take's width; null: the whole part that lies there. */
  readonly radius: number | null;
}

/** Each small part of the picture goes round in its own time within one common length, or stands still. */
export interface Woven {
  readonly kind: 'per-pixel';
  /** Frames of the footage in one round; the span only says where they may come from. */
  readonly frames: number;
  /** How much moves: squared usual steps by which a part may jump before it rather stands still. */
  readonly liveliness: number;
  /** The frame of the footage that still parts show; null: the one that suits best. What is held comes first. */
  readonly plate: number | null;
  /** Whether the camera is taken out where nothing is held. */
  readonly steady: boolean;
  readonly touches: readonly WovenTouch[];
}

export const WOVEN_LIMITS = {
  frames: { min: 4, max: 600, usual: 60 },
  liveliness: { min: 2, max: 64, usual: 16 },
} as const;
/** Frames of the span at both ends in which no round may start: melts and comparisons reach into them. */
export const WOVEN_ROOM = 6;
/** Frames of a span that are looked at, from its start. */
export const MOST_WOVEN = 400;
const MOST_TOUCHES = 200;
const MOST_POINTS = 2000;

const share = Joi.number().min(-0.5).max(1.5).required();
const touchSchema = Joi.object<WovenTouch>({
  moves: Joi.boolean().required(),
  points: Joi.array().items(Joi.array().ordered(share, share).length(2)).min(1).max(MOST_POINTS).required(),
  radius: Joi.number().min(0.001).max(1).allow(null).required(),
});

/** How many frames a span lacks for a round of so many; 0 where it has enough. */
export function framesMissing({ start, end }: Span, frames: number): number {
  return Math.max(0, frames + 2 * WOVEN_ROOM + 1 - (Math.min(end, start + MOST_WOVEN) - start));
}

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
    frames: Math.max(WOVEN_LIMITS.frames.min, frames || WOVEN_LIMITS.frames.usual),
    liveliness: WOVEN_LIMITS.liveliness.usual,
    plate: null,
    steady: true,
    touches: [],
  }),
  framesOf: () => 0,
  turns: false,
  longest: () => 0,
  missing: ({ frames }, span) => framesMissing(span, frames),
  // Where the span is too short, it is shown as it is, and that is told.
  round: ({ frames }, span) =>
    framesMissing(span, frames) > 0 ? span : { start: span.start, end: span.start + frames },
  woven: (settings) => settings,
  apply: (reel, settings, { span, name }) =>
    framesMissing(span, settings.frames) > 0 ? reel : reel.map((pick) => ({ ...pick, woven: name })),
  back: () => [],
  // Only the weave itself can say; what the whole picture misses is all that is known without it.
  score: ({ miss, usualStep }) => seamScore(miss(), usualStep),
  ownPick: (_, at, { within, seconds }) => ({ source: within(at * seconds) }),
  ownSeconds: ({ seconds }) => seconds,
  candidates: () => [],
  reason: 'woven',
  words: () => 'every part in its own time',
  note: () => '.',
  lacking: () => null,
  carry: (settings, span, at) => ({
    ...settings,
    frames: Math.max(WOVEN_LIMITS.frames.min, at(span.start + settings.frames) - at(span.start)),
    plate: settings.plate === null ? null : at(settings.plate),
  }),
};
