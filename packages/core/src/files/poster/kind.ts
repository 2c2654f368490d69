import Joi from 'joi';
import { real } from '../../schema/index.js';
import { CENTISECONDS } from '../../timing/index.js';
import { ENCODED_LIMITS, encodedQuality } from '../encoded.js';
import type { FileForm, FileKind } from '../kind.js';

export const POSTER_FORMATS = ['png', 'jpeg', 'webp'] as const;
export type PosterFormat = (typeof POSTER_FORMATS)[number];

export interface PosterSettings {
  /** A place of the reel, from 0; or the plate, which is the first place where nothing is held. */
  readonly place: number | 'plate';
  readonly format: PosterFormat;
  /** 0–100; PNG has none. */
  readonly quality: number;
}

const FORMS: Readonly<Record<PosterFormat, FileForm>> = {
  png: { extension: 'png', mime: 'image/png' },
  jpeg: { extension: 'jpg', mime: 'image/jpeg' },
  webp: { extension: 'webp', mime: 'image/webp' },
};

/** The format that a name's ending asks for; null where there is no such poster. */
export function posterFormatOf(name: string): PosterFormat | null {
  const ending = name.slice(name.lastIndexOf('.') + 1).toLowerCase();
  const isIts = (format: PosterFormat) => ending === format || ending === FORMS[format].extension;
  return POSTER_FORMATS.find(isIts) ?? null;
}

/** One picture of the loop, for where nothing may move. */
export const poster: FileKind<'poster', PosterSettings> = {
  id: 'poster',
  name: 'Poster',
  about: 'one picture, for where nothing may move',
  ...FORMS.png,
  shownAs: 'still',
  readBy: 'server',
  sendRank: null,
  holds: {
    motion: false,
    alpha: 'soft',
    mostColours: null,
    clock: CENTISECONDS,
    mostSide: 16_383,
    plays: false,
  },
  settings: {
    schema: Joi.object<PosterSettings>({
      place: Joi.alternatives(Joi.valid('plate'), Joi.number().integer().min(0).max(100_000)).required(),
      format: Joi.string()
        .valid(...POSTER_FORMATS)
        .required(),
      quality: real(ENCODED_LIMITS.quality),
    }),
    defaults: { place: 'plate', format: 'png', quality: 85 },
  },
  formOf: ({ format }) => FORMS[format],
  words: ({ place, format, quality }) =>
    `${place === 'plate' ? 'the plate' : `frame ${place}`}${format === 'png' ? '' : `, quality ${quality}`}`,
  quality: encodedQuality,
  fit: null,
  savings: () => [],
};
