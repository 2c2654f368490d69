import Joi from 'joi';
import { DITHER_NAMES, type DitherName } from '../../palette/index.js';
import { real, whole } from '../../schema/index.js';
import { IMAGE_MILLISECONDS } from '../../timing/index.js';
import { PALETTE_FIT } from '../../weigh/index.js';
import { QUALITIES } from '../gif/quality.js';
import { GIF_LIMITS } from '../gif/settings.js';
import type { FileKind } from '../kind.js';
import { FEWER_COLORS, more } from '../savings.js';

/** All colours, or a palette. */
export const APNG_COLOURS = ['full', 'palette'] as const;
export type ApngColours = (typeof APNG_COLOURS)[number];

export interface ApngSettings {
  readonly colours: ApngColours;
  /** Palette entries, 2–256; of files with a palette. */
  readonly colors: number;
  readonly dither: DitherName;
  /** Per cent, 0–100. */
  readonly ditherStrength: number;
  /** How much a pixel must change before it is drawn again, in levels, 0–100; at 0 every pixel is exact. */
  readonly settle: number;
}

/** Its qualities in a word. */
const WORDS: Readonly<Record<string, Partial<ApngSettings>>> = {
  exact: { colours: 'full', settle: 0 },
  settled: { colours: 'full' },
  palette: { colours: 'palette' },
};

export const apng: FileKind<'apng', ApngSettings> = {
  id: 'apng',
  name: 'APNG',
  about: 'exact pixels and soft edges; heavy for footage, light for drawings',
  extension: 'png',
  mime: 'image/apng',
  shownAs: 'image',
  readBy: 'server',
  sendRank: 6,
  holds: {
    motion: true,
    alpha: 'soft',
    mostColours: null,
    clock: IMAGE_MILLISECONDS,
    mostSide: 65_535,
    plays: true,
  },
  settings: {
    schema: Joi.object<ApngSettings>({
      colours: Joi.string()
        .valid(...APNG_COLOURS)
        .required(),
      colors: whole(GIF_LIMITS.colors),
      dither: Joi.string()
        .valid(...DITHER_NAMES)
        .required(),
      ditherStrength: real(GIF_LIMITS.ditherStrength),
      settle: real(GIF_LIMITS.settle),
    }),
    defaults: { colours: 'full', colors: 256, dither: 'none', ditherStrength: 50, settle: 2 },
  },
  words: ({ colours, colors, settle }) =>
    `${colours === 'full' ? 'all colours' : `${colors} colours`}, ${settle > 0 ? `settle ${settle}` : 'exact'}`,
  quality: {
    words: 'exact, settled or palette',
    read: (text) => (Object.hasOwn(WORDS, text) ? WORDS[text] : null),
  },
  fit: {
    model: PALETTE_FIT,
    settingsOf: ({ colors, settle }) => ({ colours: 'palette', colors, settle }),
    valuesOf: ({ colors, settle }) => ({ colors, settle, squeeze: 0 }),
  },
  savings: ({ settle }) => [
    { kind: 'settle', change: { settle: more(settle, QUALITIES.balanced.settle, GIF_LIMITS.settle.max) } },
    { kind: 'fewer-colours', change: { colours: 'palette', colors: FEWER_COLORS } },
  ],
};
