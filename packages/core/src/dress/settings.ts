import Joi from 'joi';
import { type ColourSettings, colourSchema, OWN_COLOURS } from '../colour/index.js';
import { type Border, borderSchema, type Corners, cornersSchema } from './border.js';
import { CAPTION_LIMITS, type Caption, captionSchema } from './caption.js';
import { EMBLEM_LIMITS, type Emblem, emblemSchema } from './emblem.js';
import { VEIL_LIMITS, type Veil, veilSchema } from './veil.js';

/** All that is laid over the picture or hidden in it. Lists run from the lowest to the highest. */
export interface DressSettings {
  readonly colour: ColourSettings;
  readonly veils: readonly Veil[];
  readonly emblems: readonly Emblem[];
  readonly captions: readonly Caption[];
  readonly border: Border | null;
  readonly corners: Corners | null;
}

export const UNDRESSED: DressSettings = {
  colour: OWN_COLOURS,
  veils: [],
  emblems: [],
  captions: [],
  border: null,
  corners: null,
};

const list = (schema: Joi.Schema, { min, max }: { min: number; max: number }) =>
  Joi.array().items(schema).min(min).max(max).required();

export const dressSchema = Joi.object<DressSettings>({
  colour: colourSchema.required(),
  veils: list(veilSchema, VEIL_LIMITS.veils),
  emblems: list(emblemSchema, EMBLEM_LIMITS.emblems),
  captions: list(captionSchema, CAPTION_LIMITS.captions),
  border: borderSchema.allow(null).required(),
  corners: cornersSchema.allow(null).required(),
});

/** The SHA-256 of a font of one's own, as captions name it. */
const OWN_FONT = /^[0-9a-f]{64}$/;

export function isOwnFont(font: string): boolean {
  return OWN_FONT.test(font);
}

/** Kept files that these settings name, by their hashes. */
export function dressHashes({ colour, veils, emblems, captions }: DressSettings): string[] {
  return [
    ...new Set([
      ...(colour.table ? [colour.table.hash] : []),
      ...veils.flatMap(({ mask }) => mask ?? []),
      ...emblems.map(({ hash }) => hash),
      ...captions.map(({ style }) => style.font).filter(isOwnFont),
    ]),
  ];
}

/** The same on frames of another size: what counts pixels of the finished file grows or shrinks with them. */
export function scaleDress(dress: DressSettings, factor: number): DressSettings {
  const { border, corners } = dress;
  return {
    ...dress,
    border: border && { ...border, width: border.width * factor },
    corners: corners && { ...corners, radius: corners.radius * factor },
  };
}
