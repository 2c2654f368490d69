import Joi from 'joi';
import { IMAGE_MILLISECONDS } from '../../timing/index.js';
import { type EncodedSettings, encodedFields, encodedKind } from '../encoded.js';
import type { FileKind } from '../kind.js';

export type AvifSettings = EncodedSettings;

export const avif: FileKind<'avif', AvifSettings> = {
  ...encodedKind,
  id: 'avif',
  name: 'AVIF',
  about: 'the lightest that is shown as an image; older browsers do without',
  extension: 'avif',
  mime: 'image/avif',
  shownAs: 'image',
  readBy: 'server',
  sendRank: 5,
  holds: {
    motion: true,
    alpha: 'soft',
    mostColours: null,
    clock: IMAGE_MILLISECONDS,
    mostSide: 65_535,
    plays: true,
  },
  settings: {
    schema: Joi.object<AvifSettings>(encodedFields),
    defaults: { quality: 65, settle: 1.5 },
  },
};

/** AV1 counts quality down from 63. At the default, AVIF and MP4 of _lantern_ look alike (SSIM .983, .981). */
export function av1Crf(quality: number): number {
  return Math.round(60 - quality * 0.48);
}
