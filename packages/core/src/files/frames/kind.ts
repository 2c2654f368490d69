import Joi from 'joi';
import { CENTISECONDS } from '../../timing/index.js';
import type { FileKind } from '../kind.js';

/** Every frame of the reel as a PNG, and a list of their delays, in a ZIP. */
export const frames: FileKind<'frames', Record<string, never>> = {
  id: 'frames',
  name: 'Frames',
  about: 'every frame as a PNG and a list of delays, in a ZIP',
  extension: 'zip',
  mime: 'application/zip',
  shownAs: 'list',
  readBy: 'server',
  sendRank: null,
  holds: {
    motion: true,
    alpha: 'soft',
    mostColours: null,
    clock: CENTISECONDS,
    mostSide: 65_535,
    plays: false,
  },
  words: () => 'exact',
  quality: null,
  fit: null,
  savings: () => [],
  settings: { schema: Joi.object<Record<string, never>>({}), defaults: {} },
};
