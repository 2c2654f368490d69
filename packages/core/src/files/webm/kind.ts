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

export interface WebmSettings extends EncodedSettings, RepeatedSettings {}

export const webm: FileKind<'webm', WebmSettings> = {
  ...encodedKind,
  id: 'webm',
  name: 'WebM',
  about: 'a silent movie that can be transparent',
  extension: 'webm',
  mime: 'video/webm',
  shownAs: 'movie',
  readBy: 'server',
  sendRank: 4,
  holds: {
    motion: true,
    alpha: 'soft',
    mostColours: null,
    clock: MOVIE_MILLISECONDS,
    mostSide: 16_384,
    plays: false,
  },
  settings: {
    schema: Joi.object<WebmSettings>({ ...encodedFields, repeatTo: real(REPEAT_LIMITS.repeatTo) }),
    defaults: { quality: 65, settle: 2, repeatTo: 0 },
  },
  words: (settings) => `${encodedWords(settings)}${repeatWords(settings)}`,
};

/** VP9 counts quality down from 63. */
export function vp9Crf(quality: number): number {
  return Math.round(60 - quality * 0.46);
}
