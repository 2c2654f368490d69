import Joi from 'joi';
import { real } from '../../schema/index.js';
import { MOVIE_MILLISECONDS } from '../../timing/index.js';
import {
  type EncodedSettings,
  encodedFields,
  encodedKind,
  encodedWords,
  REPEAT_LIMITS,
  type RepeatedSettings,
  repeatWords,
} from '../encoded.js';
import type { FileKind } from '../kind.js';

/** Chroma is halved, so both sides are even: the last row or column goes, or stands twice. */
export const ODD_SIDES = ['crop', 'pad'] as const;
export type OddSides = (typeof ODD_SIDES)[number];

export interface Mp4Settings extends EncodedSettings, RepeatedSettings {
  /** The most bytes, reached in two passes; null keeps the quality instead. */
  readonly bytes: number | null;
  readonly odd: OddSides;
}

export const MP4_LIMITS = { bytes: { min: 2_000, max: 1_000_000_000 } } as const;

export const mp4: FileKind<'mp4', Mp4Settings> = {
  ...encodedKind,
  id: 'mp4',
  name: 'MP4',
  about: 'a silent movie, for places that take movies',
  extension: 'mp4',
  mime: 'video/mp4',
  shownAs: 'movie',
  readBy: 'server',
  sendRank: 3,
  holds: {
    motion: true,
    alpha: 'none',
    mostColours: null,
    clock: MOVIE_MILLISECONDS,
    mostSide: 16_384,
    plays: false,
  },
  settings: {
    schema: Joi.object<Mp4Settings>({
      ...encodedFields,
      bytes: Joi.number()
        .integer()
        .min(MP4_LIMITS.bytes.min)
        .max(MP4_LIMITS.bytes.max)
        .allow(null)
        .required(),
      odd: Joi.string()
        .valid(...ODD_SIDES)
        .required(),
      repeatTo: real(REPEAT_LIMITS.repeatTo),
    }),
    defaults: { quality: 65, settle: 0, bytes: null, odd: 'crop', repeatTo: 0 },
  },
  words: (settings) =>
    `${settings.bytes === null ? encodedWords(settings) : `up to ${settings.bytes} bytes`}${repeatWords(settings)}`,
  fit: {
    ...encodedKind.fit,
    settingsOf: (values) => ({ ...encodedKind.fit.settingsOf(values), bytes: null }),
  },
};

/** H.264 counts quality down from 51: six steps halve the bytes. */
export function h264Crf(quality: number): number {
  return Math.round((45 - quality * 0.35) * 100) / 100;
}
