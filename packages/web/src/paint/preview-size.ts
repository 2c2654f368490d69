import { type Size, sizeWithin } from '@muted-pond/core/pixels';
import type { Ripple } from '@muted-pond/core/still';
import { sizeOfMasks } from './mask-size.js';

/** Longer side of masks while one looks, px: refined at every change, so smaller than the painted ones. */
const PREVIEW_SIDE = 640;

/** The size masks are looked at in, and ripples whose numbers are meant for it. */
export function previewOfSize(
  ripples: readonly Ripple[],
  take: Size,
): { readonly size: Size; readonly ripples: readonly Ripple[] } {
  const size = sizeWithin(take, PREVIEW_SIDE);
  const scale = size.width / sizeOfMasks(take).width;
  return {
    size,
    ripples: ripples.map((one) => ({ ...one, grow: one.grow * scale, feather: one.feather * scale })),
  };
}
