import Joi from 'joi';
import { type Crossfade, crossfade } from './crossfade.js';
import { type Cut, cut } from './cut.js';
import { type Flowed, flowed } from './flowed.js';
import type { Join } from './join.js';
import { type ThereAndBack, thereAndBack } from './there-and-back.js';
import { woven } from './woven.js';
import type { Woven } from './woven-settings.js';

/** How the end of the reel meets its start. */
export type JoinSettings = Cut | Crossfade | Flowed | ThereAndBack | Woven;
export type JoinKind = JoinSettings['kind'];

/** All joins, in the order in which they are offered. */
const ALL = [cut, crossfade, flowed, thereAndBack, woven] as const;

/** A join of whichever kind: its settings are those of its kind. */
export type AnyJoin = Join<JoinSettings>;

export const JOINS = ALL as unknown as readonly AnyJoin[];

export const JOIN_KINDS = JOINS.map(({ kind }) => kind);

const BY_KIND = new Map(JOINS.map((join) => [join.kind, join]));

export function joinOf({ kind }: { readonly kind: JoinKind }): AnyJoin {
  return BY_KIND.get(kind) as AnyJoin;
}

/** By its kind, so that only one shape is held against it. */
export const joinSchema = Joi.alternatives().conditional('.kind', {
  switch: JOINS.map(({ kind, schema }) => ({
    is: kind,
    // biome-ignore lint/suspicious/noThenProperty: Joi's own word
    then: schema,
  })),
  otherwise: Joi.object({ kind: Joi.valid(...JOIN_KINDS).required() }).unknown(),
});

/** The join that needs nothing. */
export const PLAIN_CUT: JoinSettings = cut.over(0);

/** A weave as it is to begin with, over so many frames as far as there can be so many. */
export const wovenOver = (frames: number): Woven => woven.over(frames);

export type { Crossfade } from './crossfade.js';
export type { Cut } from './cut.js';
export type { Flowed } from './flowed.js';
export type { JoinNote } from './join.js';
export type { ThereAndBack } from './there-and-back.js';
export {
  framesMissing,
  MOST_WOVEN,
  WOVEN_LIMITS,
  WOVEN_ROOM,
  type Woven,
  type WovenTouch,
} from './woven-settings.js';
