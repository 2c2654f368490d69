import { createFrame, type PixelFrame, type Size, sizeWithin } from '@muted-pond/core/pixels';
import type { HeldStill } from '@muted-pond/core/render';
import { createMask, joinMasks, LONGEST_MASK_SIDE, type Mask, movingMask } from '@muted-pond/core/still';
import { openPicture } from '../media/index.js';

/** A mask or a plate that a recipe names. Plain data: it travels between threads. */
export interface MakingLayer {
  readonly hash: string;
  readonly path: string;
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

export async function readPlate(path: string): Promise<PixelFrame> {
  const picture = await openPicture(path);
  const { data, info } = await picture
    .toColourspace('srgb')
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return createFrame(info.width, info.height, new Uint8Array(data));
}

/** What moves in each layer, and in all of them together; the take's shape. */
export async function openMovingMasks(
  still: HeldStill,
  layers: readonly MakingLayer[],
  take: Size,
): Promise<{ readonly each: readonly Mask[]; readonly all: Mask }> {
  const painted = new Map<string, Mask>();
  for (const { mask } of still.ripples) {
    if (mask) painted.set(mask, await readMask(layerPath(layers, mask)));
  }
  const size = sizeWithin(take, LONGEST_MASK_SIDE);
  const each = still.layers.map(({ ripples }) =>
    movingMask(ripples, (hash) => painted.get(hash) as Mask, size),
  );
  return { each, all: each.reduce(joinMasks, createMask(size.width, size.height)) };
}

/** @throws RangeError when it was not handed over. */
export function layerPath(layers: readonly MakingLayer[], hash: string): string {
  const layer = layers.find((one) => one.hash === hash);
  if (!layer) throw new RangeError('A painted picture of this piece is not here. Paint it anew.');
  return layer.path;
}
