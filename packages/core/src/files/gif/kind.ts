import type { FileKind } from '../kind.js';
import { DEFAULT_GIF, type GifSettings, gifSchema } from './settings.js';

export const gif: FileKind<'gif', GifSettings> = {
  id: 'gif',
  name: 'GIF',
  extension: 'gif',
  mime: 'image/gif',
  holds: { motion: true, alpha: 'hard', mostColours: 256, leastDelayCs: 2, mostSide: 65_535 },
  settings: { schema: gifSchema, defaults: DEFAULT_GIF },
};
