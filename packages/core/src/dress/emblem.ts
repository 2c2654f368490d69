import Joi from 'joi';
import { type Bounds, hashText, idText, nameText, real } from '../schema/index.js';
import { type ShownTime, timeSchema } from './times.js';

/** Where something is held: a corner, the middle of a side, or the middle. */
export const ANCHORS = [
  ...(['top-left', 'top', 'top-right'] as const),
  ...(['left', 'middle', 'right'] as const),
  ...(['bottom-left', 'bottom', 'bottom-right'] as const),
] as const;
export type Anchor = (typeof ANCHORS)[number];

/** A picture of one's own over the loop. */
export interface Emblem {
  readonly id: string;
  readonly name: string;
  /** A PNG, by its SHA-256. */
  readonly hash: string;
  readonly anchor: Anchor;
  /** From the edges that it is anchored to, per cent of the frame's shorter side. */
  readonly margin: number;
  /** Its width, per cent of the frame's. */
  readonly width: number;
  /** Degrees, clockwise. */
  readonly turn: number;
  /** 0–100. */
  readonly opacity: number;
  readonly time: ShownTime | null;
  readonly shown: boolean;
}

export const EMBLEM_LIMITS = {
  emblems: { min: 0, max: 20 },
  margin: { min: -50, max: 50 },
  width: { min: 1, max: 200 },
  turn: { min: -180, max: 180 },
  opacity: { min: 0, max: 100 },
} as const satisfies Record<string, Bounds>;

export const emblemSchema = Joi.object<Emblem>({
  id: idText,
  name: nameText,
  hash: hashText,
  anchor: Joi.string()
    .valid(...ANCHORS)
    .required(),
  margin: real(EMBLEM_LIMITS.margin),
  width: real(EMBLEM_LIMITS.width),
  turn: real(EMBLEM_LIMITS.turn),
  opacity: real(EMBLEM_LIMITS.opacity),
  time: timeSchema.allow(null).required(),
  shown: Joi.boolean().required(),
});
