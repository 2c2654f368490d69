import Joi from 'joi';
import {
  type Bounds,
  type HexColour,
  hashText,
  hexColour,
  idText,
  nameText,
  real,
  whole,
} from '../schema/index.js';
import type { Span } from '../timing/index.js';

export const VEIL_SHAPES = ['rectangle', 'ellipse', 'painted'] as const;
export type VeilShape = (typeof VEIL_SHAPES)[number];

export const VEIL_EFFECTS = ['blocks', 'blur', 'plain'] as const;
export type VeilEffect = (typeof VEIL_EFFECTS)[number];

/** A rectangle in shares of the take's picture; it may leave it. */
export interface ShareRect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Where a veil lies at a frame of the take; between keys it moves in straight lines. */
export interface VeilKey extends ShareRect {
  readonly frame: number;
  /** Who set it: what a hand set is never moved by following. */
  readonly by: 'hand' | 'following';
}

/** A region that must not be recognised. Bound to frames of the take: it stays on what it hides. */
export interface Veil {
  readonly id: string;
  readonly name: string;
  readonly shape: VeilShape;
  /** What was painted, in the shape of the take, by the SHA-256 of its PNG; for painted ones only. */
  readonly mask: string | null;
  readonly effect: VeilEffect;
  /** 1–100: how large blocks are, or how far it blurs, against the region's smaller side. */
  readonly strength: number;
  /** Of a plain one. */
  readonly colour: HexColour;
  /** Outside the region, per cent of its smaller side. */
  readonly feather: number;
  /** At least one, rising by frame. */
  readonly keys: readonly VeilKey[];
  /** Frames of the take that it lies on; null is all. */
  readonly span: Span | null;
  readonly shown: boolean;
}

export const VEIL_LIMITS = {
  veils: { min: 0, max: 20 },
  keys: { min: 1, max: 6000 },
  strength: { min: 1, max: 100 },
  feather: { min: 0, max: 100 },
  place: { min: -4, max: 5 },
  side: { min: 0.002, max: 8 },
} as const satisfies Record<string, Bounds>;

const frame = whole({ min: 0, max: 10_000_000 });
const keySchema = Joi.object<VeilKey>({
  frame,
  x: real(VEIL_LIMITS.place),
  y: real(VEIL_LIMITS.place),
  width: real(VEIL_LIMITS.side),
  height: real(VEIL_LIMITS.side),
  by: Joi.string().valid('hand', 'following').required(),
});

export const veilSchema = Joi.object<Veil>({
  id: idText,
  name: nameText,
  shape: Joi.string()
    .valid(...VEIL_SHAPES)
    .required(),
  mask: Joi.when('shape', {
    is: 'painted',
    // biome-ignore lint/suspicious/noThenProperty: Joi's own word
    then: hashText,
    otherwise: Joi.valid(null).required(),
  }),
  effect: Joi.string()
    .valid(...VEIL_EFFECTS)
    .required(),
  strength: real(VEIL_LIMITS.strength),
  colour: hexColour,
  feather: real(VEIL_LIMITS.feather),
  keys: Joi.array()
    .items(keySchema)
    .min(VEIL_LIMITS.keys.min)
    .max(VEIL_LIMITS.keys.max)
    .custom((keys: readonly VeilKey[], { error }) =>
      keys.every((key, i) => i === 0 || key.frame > keys[i - 1].frame) ? keys : error('any.custom'),
    )
    .messages({ 'any.custom': '{{#label}} must stand in the order of their frames, one for each' })
    .required(),
  span: Joi.object({ start: frame, end: frame.greater(Joi.ref('start')) })
    .allow(null)
    .required(),
  shown: Joi.boolean().required(),
});

/** Where a veil lies at a frame of the take; null where it does not lie on it. */
export function veilAt({ keys, span, shown }: Veil, at: number): ShareRect | null {
  if (!shown || (span && (at < span.start || at >= span.end))) return null;
  const after = keys.findIndex((key) => key.frame >= at);
  if (after <= 0) return keys[after < 0 ? keys.length - 1 : 0];
  const [one, other] = [keys[after - 1], keys[after]];
  const share = (at - one.frame) / (other.frame - one.frame);
  const between = (name: keyof ShareRect) => one[name] + (other[name] - one[name]) * share;
  return { x: between('x'), y: between('y'), width: between('width'), height: between('height') };
}
