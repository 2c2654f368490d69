import { readFile } from 'node:fs/promises';
import type { FileKindId } from '@muted-pond/core/files';
import { pictureLibrary } from '../media/index.js';
import { MAKERS } from './kinds/index.js';

/** A finished file whose pictures are wanted. Plain data: it travels between threads. */
export interface ReadingTask {
  readonly path: string;
  readonly kind: FileKindId;
  /** Of the reel's frames, centiseconds. */
  readonly delaysCs: readonly number[];
}

/** The pictures of a finished file, one for each frame of the reel, without loss. */
export async function picturesOf({ path, kind, delaysCs }: ReadingTask): Promise<Uint8Array[]> {
  const bytes = new Uint8Array(await readFile(path));
  const pictures: Uint8Array[] = [];
  const sharp = await pictureLibrary();
  for await (const { width, height, rgba } of MAKERS[kind].read(bytes, delaysCs)) {
    const raw = { width, height, channels: 4 } as const;
    // Packed quickly: they are looked at once or twice.
    const picture = await sharp(rgba, { raw }).png({ compressionLevel: 2 }).toBuffer();
    pictures.push(new Uint8Array(picture));
    if (pictures.length === delaysCs.length) break;
  }
  return pictures;
}
