import { readFile } from 'node:fs/promises';
import { readCube } from '@muted-pond/core/colour';
import { UserError } from '@muted-pond/core/errors';
import { createFrame, type PixelFrame, type Size } from '@muted-pond/core/pixels';
import type { SourceFile } from '@muted-pond/core/recipe';
import type { FrameSource } from '@muted-pond/core/render';
import { createMask, type Mask } from '@muted-pond/core/still';
import { openPicture } from '../media/index.js';
import { openTextEngine } from '../text/index.js';
import { decodeKept } from './kept-frames.js';
import type { MakingFile } from './making-file.js';

/** A kept file that a recipe names: a mask, a plate, an emblem, a table, a font. Plain data: it travels between threads. */
export interface MakingLayer {
  readonly hash: string;
  readonly path: string;
}

/** Pictures from the decoder and the disk. */
export interface DecodedSource extends FrameSource {
  /** How long the decoder was waited for, ms. */
  waitedMs(): number;
}

/** @param sizeOf the size in which a file is decoded; the size that the steps prefer where none is given. */
export function openFrameSource(
  files: readonly MakingFile[],
  layers: readonly MakingLayer[],
  sizeOf: (file: SourceFile, best: Size) => Size = (_, best) => best,
): DecodedSource {
  let waited = 0;
  return {
    sizeOf,
    async *read({ hash }, frames, size) {
      const file = files.find((one) => one.hash === hash);
      if (!file) throw new Error(`The file ${hash} was not handed to the maker.`);
      let from = performance.now();
      for await (const kept of decodeKept({ ...file, frames, size })) {
        waited += performance.now() - from;
        yield kept;
        from = performance.now();
      }
      waited += performance.now() - from;
    },
    mask: (hash) => readMask(layerPath(layers, hash)),
    picture: (hash) => readPicture(layerPath(layers, hash)),
    table: async (hash) => readCube(await readFile(layerPath(layers, hash), 'utf8')),
    engine: openTextEngine((hash) => layerPath(layers, hash)),
    waitedMs: () => waited,
  };
}

/** White moves. */
export async function readMask(path: string): Promise<Mask> {
  const picture = await openPicture(path);
  const { data, info } = await picture
    .toColourspace('b-w')
    .removeAlpha()
    .extractChannel(0)
    .raw()
    .toBuffer({ resolveWithObject: true });
  return createMask(info.width, info.height, new Uint8Array(data));
}

async function readPicture(path: string): Promise<PixelFrame> {
  const picture = await openPicture(path);
  const { data, info } = await picture
    .toColourspace('srgb')
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return createFrame(info.width, info.height, new Uint8Array(data));
}

/** @throws RangeError when it was not handed over. */
function layerPath(layers: readonly MakingLayer[], hash: string): string {
  const layer = layers.find((one) => one.hash === hash);
  if (!layer)
    throw new UserError(
      'layer_gone',
      'A picture, table or font of this piece is not here. Bring it in or paint it anew.',
    );
  return layer.path;
}
