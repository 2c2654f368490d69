import type { MotionMap } from '../motion/index.js';
import { createMask, type Mask } from './mask.js';

/** How far a proposed region reaches beyond what moves, and how its edge fades, px of its mask. */
export const PROPOSED_EDGE = { grow: 8, feather: 4 } as const;
/** A part smaller than this share of all that moves is not worth a ripple. */
const WORTH = 0.08;
const MOST_PROPOSED = 4;

/** The largest parts that move, each as a mask of the map's size. */
export function proposedMasks({
  width,
  height,
  labels,
  parts,
}: Pick<MotionMap, 'width' | 'height' | 'labels'> & {
  readonly parts: readonly { readonly area: number }[];
}): Mask[] {
  const all = parts.reduce((sum, part) => sum + part.area, 0);
  return parts.slice(0, MOST_PROPOSED).flatMap(({ area }, place) =>
    area < all * WORTH
      ? []
      : [
          createMask(
            width,
            height,
            labels.map((label) => (label === place + 1 ? 255 : 0)),
          ),
        ],
  );
}
