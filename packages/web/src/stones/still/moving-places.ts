import { SIGNATURE_SIZE } from '@muted-pond/core/motion';
import type { Size } from '@muted-pond/core/pixels';
import { type Mask, movingMask, resizeMask, type StillSettings } from '@muted-pond/core/still';
import { loadMask } from './mask-pictures.js';
import { previewOfSize } from './preview-size.js';

/** What moves of a picture that is held, in the size of signatures; null where nothing is held. */
export async function movingPlaces(still: StillSettings, take: Size): Promise<Uint8Array | null> {
  if (!still.plate) return null;
  const painted = new Map<string, Mask>();
  for (const { mask } of still.ripples) if (mask) painted.set(mask, await loadMask(mask));
  const { size, ripples } = previewOfSize(still, take);
  const mask = movingMask({ ...still, ripples }, (hash) => painted.get(hash) as Mask, size);
  return resizeMask(mask, SIGNATURE_SIZE).values;
}
