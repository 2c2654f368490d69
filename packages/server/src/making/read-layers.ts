import { createFrame, type PixelFrame } from '@muted-pond/core/pixels';
import { createMask, type Mask } from '@muted-pond/core/still';
import { openPicture } from '../media/index.js';

/** A mask or a plate that a recipe names. Plain data: it travels between threads. */
export interface MakingLayer {
  readonly hash: string;
  readonly path: string;
}

/** White moves. */
export async function readMask(path: string): Promise<Mask> {
  const { data, info } = await openPicture(path)
    .toColourspace('b-w')
    .removeAlpha()
    .extractChannel(0)
    .raw()
    .toBuffer({ resolveWithObject: true });
  return createMask(info.width, info.height, new Uint8Array(data));
}

export async function readPlate(path: string): Promise<PixelFrame> {
  const { data, info } = await openPicture(path)
    .toColourspace('srgb')
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return createFrame(info.width, info.height, new Uint8Array(data));
}
