import type { FileKindId } from '@muted-pond/core/files';
import { apng } from './apng.js';
import { avif } from './avif.js';
import { frames } from './frames.js';
import { gif } from './gif.js';
import type { Maker } from './maker.js';
import { mp4 } from './mp4.js';
import { poster } from './poster.js';
import { webm } from './webm.js';
import { webp } from './webp.js';

/** How each kind of file is made and read back. */
export const MAKERS: Readonly<Record<FileKindId, Maker>> = {
  gif,
  webp,
  apng,
  avif,
  mp4,
  webm,
  poster,
  frames,
};

export type { FileMaking, MadeBytes, Maker, MakerContext, PaletteFigures } from './maker.js';
