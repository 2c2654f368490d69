import type { ShareRect } from '@muted-pond/core/dress';
import type { Size } from '@muted-pond/core/pixels';
import { useStore } from 'zustand';
import { placeOnShown, placeOnTake } from '../../../paint/pointer-place.js';
import { useTake } from '../../../piece/piece-take.js';
import { useWorkspace } from '../../../piece/workspace-context.js';
import type { DrawWay } from '../../../stage/draw.js';
import { shownRecipe } from '../../../store/piece-store.js';

/** The part of the take that is seen, in shares of it. */
export function useShownPart(): ShareRect {
  const { store } = useWorkspace();
  const take = useTake();
  const crop = useStore(store, (state) => shownRecipe(state).framing.crop);
  if (!crop) return { x: 0, y: 0, width: 1, height: 1 };
  const { width, height } = take.size;
  return { x: crop.x / width, y: crop.y / height, width: crop.width / width, height: crop.height / height };
}

/** A rectangle of the take, in shares of it, as it lies on the shown picture, px. */
export function rectOnShown(way: DrawWay, { x, y, width, height }: ShareRect, shown: Size): ShareRect {
  const { takeSize } = way;
  const one = placeOnShown(way, x * takeSize.width, y * takeSize.height);
  const other = placeOnShown(way, (x + width) * takeSize.width, (y + height) * takeSize.height);
  return {
    x: Math.min(one.x, other.x) * shown.width,
    y: Math.min(one.y, other.y) * shown.height,
    width: Math.abs(other.x - one.x) * shown.width,
    height: Math.abs(other.y - one.y) * shown.height,
  };
}

/** And back. */
export function rectOnTake(way: DrawWay, { x, y, width, height }: ShareRect, shown: Size): ShareRect {
  const { takeSize } = way;
  const one = placeOnTake(way, x / shown.width, y / shown.height);
  const other = placeOnTake(way, (x + width) / shown.width, (y + height) / shown.height);
  return {
    x: Math.min(one.x, other.x) / takeSize.width,
    y: Math.min(one.y, other.y) / takeSize.height,
    width: Math.abs(other.x - one.x) / takeSize.width,
    height: Math.abs(other.y - one.y) / takeSize.height,
  };
}
