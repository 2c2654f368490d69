import { type Size, sizeWithin } from '../pixels/index.js';
import { createMask, joinMasks, LONGEST_MASK_SIDE, type Mask, movingMask } from '../still/index.js';
import type { FrameSource } from './frame-source.js';
import type { HeldStill } from './plan-render.js';

/** The mask of each layer, and of all layers together, in the take's shape. */
export interface MovingMasks {
  readonly each: readonly Mask[];
  readonly all: Mask;
}

export async function openMovingMasks(
  still: Pick<HeldStill, 'ripples' | 'layers'>,
  source: Pick<FrameSource, 'mask'>,
  take: Size,
): Promise<MovingMasks> {
  const painted = new Map<string, Mask>();
  for (const { mask } of still.ripples) if (mask) painted.set(mask, await source.mask(mask));
  const size = sizeWithin(take, LONGEST_MASK_SIDE);
  const each = still.layers.map(({ ripples }) =>
    movingMask(ripples, (hash) => painted.get(hash) as Mask, size),
  );
  return { each, all: each.reduce(joinMasks, createMask(size.width, size.height)) };
}
