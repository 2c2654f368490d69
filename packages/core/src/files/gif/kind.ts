import { CENTISECONDS } from '../../timing/index.js';
import { PALETTE_FIT } from '../../weigh/index.js';
import type { FileKind, KindSaving } from '../kind.js';
import { FEWER_COLORS, more } from '../savings.js';
import { QUALITIES, QUALITY_NAMES } from './quality.js';
import { DEFAULT_GIF, GIF_LIMITS, type GifSettings, gifSchema } from './settings.js';

export const gif: FileKind<'gif', GifSettings> = {
  id: 'gif',
  name: 'GIF',
  about: 'plays wherever a picture can be shown',
  extension: 'gif',
  mime: 'image/gif',
  shownAs: 'image',
  readBy: 'core',
  sendRank: 1,
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
  quality: {
    words: QUALITY_NAMES.join(', '),
    read(text) {
      const name = QUALITY_NAMES.find((one) => one === text);
      return name ? QUALITIES[name] : null;
    },
  },
  gaveUp({ colors, settle, squeeze }) {
    const isAbove = (one: { readonly settle: number; readonly squeeze: number }) =>
      settle > one.settle || squeeze > one.squeeze;
    const rest = isAbove(QUALITIES.small)
      ? 'coarse in what moves'
      : isAbove(QUALITIES.balanced)
        ? 'small changes dropped'
        : isAbove(QUALITIES['near-lossless'])
          ? 'hardly anything dropped'
          : 'nothing dropped';
    return colors < 256 ? `${colors} colours, ${rest}` : rest;
  },
  fit: {
    model: PALETTE_FIT,
    settingsOf: ({ colors, settle, squeeze }) => ({ colors, settle, squeeze }),
    valuesOf: ({ colors, settle, squeeze }) => ({ colors, settle, squeeze }),
  },
  savings({ settle, squeeze, colors, dither }) {
    const { small } = QUALITIES;
    const changes: KindSaving<GifSettings>[] = [
      { kind: 'settle', change: { settle: more(settle, small.settle, GIF_LIMITS.settle.max) } },
      { kind: 'squeeze', change: { squeeze: more(squeeze, small.squeeze, GIF_LIMITS.squeeze.max) } },
    ];
    if (colors > FEWER_COLORS) changes.push({ kind: 'fewer-colours', change: { colors: FEWER_COLORS } });
    if (dither !== 'none') changes.push({ kind: 'no-dither', change: { dither: 'none' } });
    return changes;
  },
};
