import { createReadStream, type ReadStream } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import { FONT_IDS, type FontFace, type FontId, runsOf } from '@muted-pond/core/dress';
import { UserError } from '@muted-pond/core/errors';

/** Fonts lie beside the core, built or not. */
const FOLDER = new URL('../../../core/fonts/', import.meta.url);

/** The end mark of a character table, which is not a character. (OpenType 1.9, "cmap", format 4.) */
const END_OF_TABLE = 0xffff;

let shipped: Promise<readonly FontFace[]> | null = null;

/** The fonts that ship, in the order in which letters are looked for. */
export function shippedFaces(): Promise<readonly FontFace[]> {
  shipped ??= readFile(new URL('faces.json', FOLDER), 'utf8').then((text) => JSON.parse(text) as FontFace[]);
  return shipped;
}

export function isShippedFont(id: string): id is FontId {
  return FONT_IDS.some((one) => one === id);
}

export function shippedFontPath(id: FontId): string {
  return fileURLToPath(new URL(`${id}.ttf`, FOLDER));
}

export function openShippedFont(id: FontId): ReadStream {
  return createReadStream(shippedFontPath(id));
}

/**
 * What a font of one's own is called and which characters it has.
 * @throws UserError where it cannot be read.
 */
export async function readFace(id: string, file: string | Uint8Array): Promise<FontFace> {
  const { create } = await import('fontkit');
  try {
    const font = create(typeof file === 'string' ? await readFile(file) : Buffer.from(file));
    if (!('characterSet' in font)) throw new Error('A collection of fonts.');
    const family = font.getName('preferredFamily' as never, 'en') ?? font.familyName;
    if (!family || font.characterSet.length === 0) throw new Error('Without a name or characters.');
    const characters = font.characterSet.filter((character) => character !== END_OF_TABLE);
    return { id, family, runs: runsOf(characters.sort((one, other) => one - other)) };
  } catch {
    throw new UserError('bad_font', 'This font cannot be read. Bring a TTF, OTF or WOFF2 file of one font.');
  }
}
