import Joi from 'joi';
import { hashText, lineText, real } from '../schema/index.js';
import { type ColourTable, denseKnots, evenKnots, foldColours, TABLE_SIZE } from './colour-table.js';
import { type Cube, cubeFunction, knotsOf } from './cube.js';
import { type ColourFunction, type Grade, gradeFunction, NO_GRADE } from './grade.js';
import { LOOK_IDS, type LookId, lookFunction, lookOf } from './looks.js';

/** Where look and table lie: on all, or only on what is held or on what moves over it. */
export const COLOUR_PARTS = ['everywhere', 'held', 'moving'] as const;
export type ColourPart = (typeof COLOUR_PARTS)[number];

/** Colour: what is set by hand, then a look, then a table of one's own. */
export interface ColourSettings {
  readonly grade: Grade;
  /** 0–100, after resizing. */
  readonly sharpness: number;
  /** Its strength is 0–100. */
  readonly look: { readonly id: LookId; readonly strength: number } | null;
  /** A .cube file, by its SHA-256. */
  readonly table: { readonly hash: string; readonly name: string; readonly strength: number } | null;
  readonly part: ColourPart;
}

export const OWN_COLOURS: ColourSettings = {
  grade: NO_GRADE,
  sharpness: 0,
  look: null,
  table: null,
  part: 'everywhere',
};

/** Bounds of what is set by hand. */
export const COLOUR_LIMITS = {
  exposure: { min: -3, max: 3 },
  contrast: { min: -100, max: 100 },
  black: { min: -20, max: 20 },
  saturation: { min: -100, max: 100 },
  warmth: { min: -100, max: 100 },
  tint: { min: -100, max: 100 },
  sharpness: { min: 0, max: 100 },
  strength: { min: 0, max: 100 },
} as const;

const strength = real(COLOUR_LIMITS.strength);

export const colourSchema = Joi.object<ColourSettings>({
  grade: Joi.object({
    exposure: real(COLOUR_LIMITS.exposure),
    contrast: real(COLOUR_LIMITS.contrast),
    black: real(COLOUR_LIMITS.black),
    saturation: real(COLOUR_LIMITS.saturation),
    warmth: real(COLOUR_LIMITS.warmth),
    tint: real(COLOUR_LIMITS.tint),
  }).required(),
  sharpness: real(COLOUR_LIMITS.sharpness),
  look: Joi.object({
    id: Joi.string()
      .valid(...LOOK_IDS)
      .required(),
    strength,
  })
    .allow(null)
    .required(),
  table: Joi.object({
    hash: hashText,
    name: lineText({ min: 1, max: 120 }).required(),
    strength,
  })
    .allow(null)
    .required(),
  part: Joi.string()
    .valid(...COLOUR_PARTS)
    .required(),
});

/** Settings as functions of single colours: what is done everywhere, and what look and table add to it. */
export interface ColourFunctions {
  readonly grade: ColourFunction | null;
  readonly look: ColourFunction | null;
}

/** @param cube the table that the settings name; null where they name none. */
export function colourFunctions(settings: ColourSettings, cube: Cube | null): ColourFunctions {
  const { look, table } = settings;
  const parts = [
    look && look.strength > 0 ? mixed(lookFunction(lookOf(look.id)), look.strength) : null,
    table && cube && table.strength > 0 ? mixed(cubeFunction(cube), table.strength) : null,
  ];
  return { grade: gradeFunction(settings.grade), look: inTurn(parts) };
}

/** All of it, as where the look lies. */
export function inTurn(parts: readonly (ColourFunction | null)[]): ColourFunction | null {
  const there = parts.filter((part) => part !== null);
  if (there.length === 0) return null;
  return (colour) => {
    for (const part of there) part(colour);
  };
}

function mixed(change: ColourFunction, percent: number): ColourFunction {
  if (percent === 100) return change;
  const share = percent / 100;
  const before = new Float64Array(3);
  return (colour) => {
    before.set(colour);
    change(colour);
    for (let c = 0; c < 3; c++) colour[c] = before[c] + (colour[c] - before[c]) * share;
  };
}

/**
 * A function folded into a table. Nodes lie as a table of one's own has them, so that it is kept exactly; of one
 * dimension, as close as there is room for.
 */
export function foldSettings(
  change: ColourFunction,
  { cube, isDraft }: { readonly cube: Cube | null; readonly isDraft: boolean },
): ColourTable {
  if (isDraft) return foldColours(change, denseKnots(DRAFT_SIZE));
  if (!cube) return foldColours(change, denseKnots(TABLE_SIZE));
  return foldColours(change, knotsOf(cube) ?? evenKnots(LINE_TABLE_SIZE));
}

const LINE_TABLE_SIZE = 65;
/** Folded in an eighth of the time, while a hand moves. */
const DRAFT_SIZE = 17;

/** Whether nothing is changed. */
export function keepsColours(settings: ColourSettings): boolean {
  const { grade, look, sharpness, table } = settings;
  const isGraded = Object.values(grade).some((value) => value !== 0);
  return !isGraded && sharpness === 0 && !(look && look.strength > 0) && !(table && table.strength > 0);
}
