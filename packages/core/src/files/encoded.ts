import { real } from '../schema/index.js';
import { QUALITY_FIT } from '../weigh/index.js';
import { QUALITIES } from './gif/quality.js';
import type { KindFit, KindQuality, KindSaving } from './kind.js';
import { more } from './savings.js';

/** What all files have in common that are made by an encoder with a quality. */
export interface EncodedSettings {
  /** 0, the lightest, to 100, the best. */
  readonly quality: number;
  /** How much a pixel must change before it changes in the file, in levels, 0–24. */
  readonly settle: number;
}

export const ENCODED_LIMITS = {
  quality: { min: 0, max: 100 },
  settle: { min: 0, max: 24 },
} as const;

export const encodedFields = {
  quality: real(ENCODED_LIMITS.quality),
  settle: real(ENCODED_LIMITS.settle),
};

const encodedFit: KindFit<EncodedSettings> = {
  model: QUALITY_FIT,
  settingsOf: ({ quality }) => ({ quality }),
  valuesOf: ({ quality }) => ({ quality }),
};

/** A number; for every kind that has a quality. */
export const encodedQuality: KindQuality<{ readonly quality: number }> = {
  words: `a number from ${ENCODED_LIMITS.quality.min} to ${ENCODED_LIMITS.quality.max}`,
  read(text) {
    const quality = text.trim() === '' ? Number.NaN : Number(text);
    const { min, max } = ENCODED_LIMITS.quality;
    return quality >= min && quality <= max ? { quality } : null;
  },
};

/** How much lower a quality is tried, of 100. */
const LOWER = 15;

function encodedSavings({ quality, settle }: EncodedSettings): readonly KindSaving<EncodedSettings>[] {
  return [
    { kind: 'lower-quality', change: { quality: Math.max(0, quality - LOWER) } },
    {
      kind: 'settle',
      change: { settle: more(settle, QUALITIES.balanced.settle, ENCODED_LIMITS.settle.max) },
    },
  ];
}

export function encodedWords({ quality, settle }: EncodedSettings): string {
  return settle > 0 ? `quality ${quality}, settle ${settle}` : `quality ${quality}`;
}

/** What kinds with such an encoder have alike; each may say otherwise. */
export const encodedKind = {
  words: encodedWords,
  quality: encodedQuality,
  fit: encodedFit,
  savings: encodedSavings,
};

/** Movies can hold whole rounds one after the other. */
export interface RepeatedSettings {
  /** As many whole rounds as fit into so many seconds, and one at least; 0 is one. */
  readonly repeatTo: number;
}

export const REPEAT_LIMITS = { repeatTo: { min: 0, max: 600 } } as const;

/** How many whole rounds a movie holds. */
export function roundsOf({ repeatTo }: RepeatedSettings, roundSeconds: number): number {
  // A round that is a thousandth too long is not one too many.
  return Math.max(1, Math.floor((repeatTo + 1e-3) / roundSeconds));
}

export function repeatWords({ repeatTo }: RepeatedSettings): string {
  return repeatTo > 0 ? `, repeated to ${repeatTo} s` : '';
}
