import { CENTISECONDS } from '../../timing/index.js';
import { PALETTE_FIT } from '../../weigh/index.js';
import type { FileKind } from '../kind.js';
import { DEFAULT_GIF, type GifSettings, gifSchema } from './settings.js';

export const gif: FileKind<'gif', GifSettings> = {
  id: 'gif',
  name: 'GIF',
  about: 'plays wherever a picture can be shown',
  extension: 'gif',
  mime: 'image/gif',
  holds: {
    motion: true,
    alpha: 'hard',
    mostColours: 256,
    clock: CENTISECONDS,
    mostSide: 65_535,
    plays: true,
  },
  settings: { schema: gifSchema, defaults: DEFAULT_GIF },
  words: ({ colors, dither, settle, squeeze }) =>
    `${colors} colours, ${dither === 'none' ? 'no dither' : dither}, settle ${settle}, squeeze ${squeeze}`,
  fit: {
    model: PALETTE_FIT,
    settingsOf: ({ colors, settle, squeeze }) => ({ colors, settle, squeeze }),
    valuesOf: ({ colors, settle, squeeze }) => ({ colors, settle, squeeze }),
  },
};
