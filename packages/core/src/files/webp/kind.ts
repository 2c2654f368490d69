import Joi from 'joi';
import { IMAGE_MILLISECONDS } from '../../timing/index.js';
import { type EncodedSettings, encodedFields, encodedKind, encodedWords } from '../encoded.js';
import type { FileKind } from '../kind.js';

/** Lossy; whichever of lossy and lossless is lighter, frame by frame; or exact. */
export const WEBP_WAYS = ['lossy', 'mixed', 'lossless'] as const;
export type WebpWay = (typeof WEBP_WAYS)[number];

export interface WebpSettings extends EncodedSettings {
  readonly way: WebpWay;
}

export const webp: FileKind<'webp', WebpSettings> = {
  ...encodedKind,
  id: 'webp',
  name: 'WebP',
  about: 'all colours and soft edges, shown as an image by every browser of today',
  extension: 'webp',
  mime: 'image/webp',
  shownAs: 'image',
  readBy: 'server',
  sendRank: 2,
  holds: {
    motion: true,
    alpha: 'soft',
    mostColours: null,
    clock: IMAGE_MILLISECONDS,
    mostSide: 16_383,
    plays: true,
  },
  settings: {
    schema: Joi.object<WebpSettings>({
      ...encodedFields,
      way: Joi.string()
        .valid(...WEBP_WAYS)
        .required(),
    }),
    defaults: { quality: 75, settle: 3, way: 'lossy' },
  },
  words: (settings) =>
    settings.way === 'lossless' ? 'lossless' : `${settings.way}, ${encodedWords(settings)}`,
  quality: {
    words: `${encodedKind.quality.words}, or ${WEBP_WAYS.slice(1).join(' or ')}`,
    read(text) {
      const way = WEBP_WAYS.find((one) => one === text);
      return way ? { way } : encodedKind.quality.read(text);
    },
  },
  fit: {
    ...encodedKind.fit,
    settingsOf: (values) => ({ ...encodedKind.fit.settingsOf(values), way: 'lossy' }),
  },
};
