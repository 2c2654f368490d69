import { SIGNATURE_SIZE } from '@muted-pond/core/motion';
import type { Size } from '@muted-pond/core/pixels';
import { movingMask, type Ripple, resizeMask, type StillSettings } from '@muted-pond/core/still';
import { ALL_MOVES, type MovingPlaces } from '../seam/seam-work.js';
import { paintOf } from './mask-pictures.js';
import { previewOfSize } from './preview-size.js';

/** What moves of a picture that is held, in the size of signatures. */
export async function movingPlaces(still: StillSettings, take: Size): Promise<MovingPlaces> {
  if (!still.plate) return ALL_MOVES;
  const painted = await paintOf(still.ripples);
  const { size, ripples } = previewOfSize(still.ripples, take);
  const placesOf = (some: readonly Ripple[]) =>
    resizeMask(movingMask(some, painted, size), SIGNATURE_SIZE).values;
  const shown = ripples.filter((ripple) => ripple.shown);
  const withReel = shown.filter((ripple) => ripple.loop === null);
  const all = placesOf(shown);
  return {
    all,
    withReel: withReel.length === shown.length || withReel.length === 0 ? all : placesOf(withReel),
    ripples: shown.map((ripple) => ({ id: ripple.id, places: placesOf([ripple]) })),
  };
}
