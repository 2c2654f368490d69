import Joi from 'joi';
import { type Bounds, type HexColour, hexColour, idText, real, whole } from '../schema/index.js';
import { type ShownTime, timeSchema } from './times.js';

export const ALIGNMENTS = ['left', 'centre', 'right'] as const;
export type Alignment = (typeof ALIGNMENTS)[number];

/** How a caption looks. Lengths are in per cent of the letters' size, unless they say otherwise. */
export interface CaptionStyle {
  /** A font that ships, by its name in the list; or one's own, by its SHA-256. */
  readonly font: string;
  /** Of the letters, per cent of the frame's height. */
  readonly size: number;
  readonly colour: HexColour;
  readonly align: Alignment;
  /** From line to line, in sizes. */
  readonly lineHeight: number;
  /** Between letters. */
  readonly spacing: number;
  readonly outline: { readonly width: number; readonly colour: HexColour } | null;
  readonly box: {
    readonly colour: HexColour;
    /** 0–100. */
    readonly opacity: number;
    readonly padding: number;
    readonly corner: number;
  } | null;
  /** 0–100: how dark it is. */
  readonly shadow: { readonly colour: HexColour; readonly strength: number } | null;
}

/** Words over the picture. */
export interface Caption {
  readonly id: string;
  /** Lines are parted by line feeds. */
  readonly text: string;
  readonly style: CaptionStyle;
  /** The middle of the block, shares of the frame. */
  readonly x: number;
  readonly y: number;
  readonly time: ShownTime | null;
  /** Duration of fading in and out; 0: none. */
  readonly fadeCs: number;
  readonly shown: boolean;
}

export const CAPTION_LIMITS = {
  captions: { min: 0, max: 200 },
  letters: { min: 1, max: 500 },
  size: { min: 1, max: 60 },
  lineHeight: { min: 0.7, max: 3 },
  spacing: { min: -10, max: 100 },
  outline: { min: 0.5, max: 40 },
  opacity: { min: 0, max: 100 },
  padding: { min: 0, max: 200 },
  corner: { min: 0, max: 200 },
  fadeCs: { min: 0, max: 1000 },
  /** Shares of the frame; a caption may hang over its edge. */
  place: { min: -0.5, max: 1.5 },
} as const satisfies Record<string, Bounds>;

const orNone = (fields: object) => Joi.object(fields).allow(null).required();

export const captionStyleSchema = Joi.object<CaptionStyle>({
  font: Joi.string()
    .pattern(/^[0-9a-z-]{1,64}$/)
    .required(),
  size: real(CAPTION_LIMITS.size),
  colour: hexColour,
  align: Joi.string()
    .valid(...ALIGNMENTS)
    .required(),
  lineHeight: real(CAPTION_LIMITS.lineHeight),
  spacing: real(CAPTION_LIMITS.spacing),
  outline: orNone({ width: real(CAPTION_LIMITS.outline), colour: hexColour }),
  box: orNone({
    colour: hexColour,
    opacity: real(CAPTION_LIMITS.opacity),
    padding: real(CAPTION_LIMITS.padding),
    corner: real(CAPTION_LIMITS.corner),
  }),
  shadow: orNone({ colour: hexColour, strength: real(CAPTION_LIMITS.opacity) }),
});

export const captionSchema = Joi.object<Caption>({
  id: idText,
  text: Joi.string().max(CAPTION_LIMITS.letters.max).required(),
  style: captionStyleSchema.required(),
  x: real(CAPTION_LIMITS.place),
  y: real(CAPTION_LIMITS.place),
  time: timeSchema.allow(null).required(),
  fadeCs: whole(CAPTION_LIMITS.fadeCs),
  shown: Joi.boolean().required(),
});
