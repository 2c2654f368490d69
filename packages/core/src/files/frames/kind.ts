import Joi from 'joi';
import type { FileKind } from '../kind.js';

/** Every frame of the reel as a PNG, and a list of their delays, in a ZIP. */
export const frames: FileKind<'frames', Record<string, never>> = {
  id: 'frames',
  name: 'Frames',
  extension: 'zip',
  mime: 'application/zip',
  holds: { motion: true, alpha: 'soft', mostColours: null, leastDelayCs: 1, mostSide: 65_535 },
  settings: { schema: Joi.object<Record<string, never>>({}), defaults: {} },
};
