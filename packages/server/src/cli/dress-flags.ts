import { COLOUR_LIMITS, type Grade, LOOK_IDS, type LookId } from '@muted-pond/core/colour';
import {
  ANCHORS,
  type Anchor,
  BORDER_LIMITS,
  type Border,
  CAPTION_LIMITS,
  cleanText,
  EMBLEM_LIMITS,
  VEIL_EFFECTS,
  type VeilEffect,
} from '@muted-pond/core/dress';
import { UserError } from '@muted-pond/core/errors';
import type { Rect } from '@muted-pond/core/pixels';
import type { FlagValues } from './render-command.js';

/** From and to, seconds. */
export interface SecondsRange {
  readonly from: number;
  readonly to: number;
}

/** What of the dress the command line asks for; what it leaves open is null or empty. */
export interface DressFlags {
  readonly look: { readonly id: LookId; readonly strength: number } | null;
  readonly grade: Partial<Grade> & { readonly sharpness?: number };
  /** Files. */
  readonly lut: string | null;
  readonly subtitles: string | null;
  readonly captions: readonly CaptionFlag[];
  readonly border: Border | null;
  readonly corner: number | null;
  readonly emblems: readonly EmblemFlag[];
  readonly veils: readonly VeilFlag[];
}

export interface CaptionFlag {
  readonly text: string;
  readonly place: Anchor | null;
  /** Per cent of the frame's height. */
  readonly size: number | null;
  /** Of the reel. */
  readonly time: SecondsRange | null;
}

export interface EmblemFlag {
  readonly path: string;
  readonly place: Anchor | null;
  /** Per cent of the frame's width. */
  readonly size: number | null;
  readonly time: SecondsRange | null;
}

export interface VeilFlag {
  /** Pixels of the upright footage. */
  readonly rect: Rect;
  /** Of the footage. */
  readonly time: SecondsRange | null;
  readonly effect: VeilEffect;
}

/** What was given of the dress. */
export type DressValues = Pick<
  FlagValues,
  'look' | 'grade' | 'lut' | 'caption' | 'subtitles' | 'border' | 'corner' | 'emblem' | 'veil'
>;

/** @throws UserError in one line for what cannot be understood. */
export function readDressFlags(values: DressValues): DressFlags {
  return {
    look: readLook(values.look),
    grade: readGrade(values.grade),
    lut: values.lut ?? null,
    subtitles: values.subtitles ?? null,
    captions: (values.caption ?? []).map(readCaption),
    border: readBorder(values.border),
    corner: readCorner(values.corner),
    emblems: (values.emblem ?? []).map(readEmblem),
    veils: (values.veil ?? []).map(readVeil),
  };
}

function wrong(flag: string, text: string, what: string): UserError {
  return new UserError('bad_flag', `--${flag} ${text.slice(0, 80)}: ${what}`);
}

/** A number within bounds, or null where it is none. */
function numberIn(text: string | undefined, { min, max }: { min: number; max: number }): number | null {
  const value = text === undefined || text.trim() === '' ? Number.NaN : Number(text);
  return value >= min && value <= max ? value : null;
}

function readLook(text: string | undefined): DressFlags['look'] {
  if (text === undefined) return null;
  const [name, share] = text.split(':');
  const id = LOOK_IDS.find((one) => one === name);
  if (!id) throw wrong('look', text, `choose one of ${LOOK_IDS.join(', ')}.`);
  const strength = share === undefined ? 100 : numberIn(share, COLOUR_LIMITS.strength);
  if (strength === null) throw wrong('look', text, 'its strength is a number from 0 to 100.');
  return { id, strength };
}

const GRADES = ['exposure', 'contrast', 'black', 'saturation', 'warmth', 'tint', 'sharpness'] as const;

function readGrade(text: string | undefined): DressFlags['grade'] {
  const grade: Record<string, number> = {};
  for (const part of text?.split(',') ?? []) {
    const [name, value] = part.split('=');
    const known = GRADES.find((one) => one === name.trim());
    if (!known) throw wrong('grade', text ?? '', `“${name}” is none of ${GRADES.join(', ')}.`);
    const set = numberIn(value, COLOUR_LIMITS[known]);
    const { min, max } = COLOUR_LIMITS[known];
    if (set === null) throw wrong('grade', text ?? '', `${known} is a number from ${min} to ${max}.`);
    grade[known] = set;
  }
  return grade;
}

interface Placed {
  readonly place: Anchor | null;
  readonly size: number | null;
  readonly time: SecondsRange | null;
}

/** What stands behind the last @, in any order; null where it is something else. */
function readPlaced(text: string, sizes: { min: number; max: number }): Placed | null {
  let placed: Placed = { place: null, size: null, time: null };
  for (const part of text.split(',').map((one) => one.trim())) {
    const place = ANCHORS.find((one) => one === part);
    const size = numberIn(part, sizes);
    const time = readRange(part);
    if (place) placed = { ...placed, place };
    else if (size !== null) placed = { ...placed, size };
    else if (time) placed = { ...placed, time };
    else return null;
  }
  return placed;
}

/** “1.5-4”, seconds. */
function readRange(text: string): SecondsRange | null {
  const parts = /^(\d+(?:\.\d+)?)-(\d+(?:\.\d+)?)$/.exec(text);
  if (!parts) return null;
  const [from, to] = [Number(parts[1]), Number(parts[2])];
  return to > from ? { from, to } : null;
}

const NOWHERE: Placed = { place: null, size: null, time: null };

/** @returns what stands before the last @, and what it says behind it. */
function splitPlaced(text: string, sizes: { min: number; max: number }): [string, Placed] {
  const at = text.lastIndexOf('@');
  const placed = at < 0 ? null : readPlaced(text.slice(at + 1), sizes);
  return placed ? [text.slice(0, at), placed] : [text, NOWHERE];
}

function readCaption(text: string): CaptionFlag {
  const [words, placed] = splitPlaced(text, CAPTION_LIMITS.size);
  const clean = cleanText(words.replaceAll('\\n', '\n'));
  if (clean.text.trim() === '') throw wrong('caption', text, 'give some words.');
  if (clean.notes.length > 0) throw wrong('caption', text, clean.notes.join(' '));
  return { text: clean.text, ...placed };
}

function readEmblem(text: string): EmblemFlag {
  const [path, placed] = splitPlaced(text, EMBLEM_LIMITS.width);
  if (path === '') throw wrong('emblem', text, 'give a file.');
  return { path, ...placed };
}

function readBorder(text: string | undefined): Border | null {
  if (text === undefined) return null;
  const [first, colour, ...more] = text.split(',');
  const width = numberIn(first, BORDER_LIMITS.width);
  if (
    width === null ||
    !Number.isInteger(width) ||
    !/^#[0-9a-f]{6}$/i.test(colour ?? '') ||
    more.length > 0
  ) {
    throw wrong('border', text, 'give a width in whole pixels and a colour, WIDTH,#rrggbb.');
  }
  return { width, colour: colour.toLowerCase() };
}

function readCorner(text: string | undefined): number | null {
  if (text === undefined) return null;
  const radius = numberIn(text, BORDER_LIMITS.radius);
  const { min, max } = BORDER_LIMITS.radius;
  if (radius === null || !Number.isInteger(radius)) {
    throw wrong('corner', text, `give a whole number of pixels from ${min} to ${max}.`);
  }
  return radius;
}

function readVeil(text: string): VeilFlag {
  const parts = /^(-?[\d.]+),(-?[\d.]+),([\d.]+),([\d.]+)(?:@([\d.]+-[\d.]+))?,([a-z]+)$/.exec(text);
  const effect = VEIL_EFFECTS.find((one) => one === parts?.[6]);
  const [x, y, width, height] = (parts ?? []).slice(1, 5).map(Number);
  const time = parts?.[5] === undefined ? null : readRange(parts[5]);
  const isRect = [x, y, width, height].every(Number.isFinite) && width >= 1 && height >= 1;
  if (!parts || !effect || !isRect || (parts[5] !== undefined && !time)) {
    throw wrong(
      'veil',
      text,
      `give X,Y,WIDTH,HEIGHT[@FROM-TO],${VEIL_EFFECTS.join('|')} in pixels and seconds.`,
    );
  }
  return { rect: { x, y, width, height }, time, effect };
}
