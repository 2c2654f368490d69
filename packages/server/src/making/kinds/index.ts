import type { FileKindId } from '@muted-pond/core/files';
import { frames } from './frames.js';
import { gif } from './gif.js';
import type { Maker } from './maker.js';
import { poster } from './poster.js';

/** How each kind of file is made and read back. */
export const MAKERS: Readonly<Record<FileKindId, Maker>> = { gif, poster, frames };

export type { FileMaking, MadeBytes, Maker, MakerContext, PaletteFigures } from './maker.js';
