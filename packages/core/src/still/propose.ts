import type { MotionMap } from '../motion/index.js';
import type { Size } from '../pixels/index.js';
import { createMask, type Mask, resizeMask } from './mask.js';
import { featherMask } from './refine.js';

/** How far a proposed region reaches beyond what moves, and how its edge fades, px of its mask. */
export const PROPOSED_EDGE = { grow: 8, feather: 8 } as const;
/** A part smaller than this share of all that moves is not worth a ripple. */
const WORTH = 0.08;
const MOST_PROPOSED = 4;

/** What parts of a picture move, as a map of their numbers. */
export type MovingParts = Pick<MotionMap, 'width' | 'height' | 'labels'>;

/**
 * Over so many places of the map a part's outline is rounded: the map is coarse, and its steps are not the
 * picture's.
 */
const ROUNDED_OVER = 3.5;
/** Width of the outline's edge, px of the mask: smooth, and no softer than that. */
const EDGE = 2;

/** One part as a mask of a size, its outline rounded where the map has steps. */
export function partMask({ width, height, labels }: MovingParts, part: number, size: Size): Mask {
  const steps = createMask(
    width,
    height,
    labels.map((label) => (label === part ? 255 : 0)),
  );
  const { values } = resizeMask(featherMask(steps, ROUNDED_OVER), size);
  // The fading over some places of the map becomes an edge of some pixels, around its middle.
  const steeper = Math.max(1, (ROUNDED_OVER * size.width) / width / EDGE);
  return createMask(
    size.width,
    size.height,
    values.map((value) => Math.max(0, Math.min(255, Math.round((value - 127.5) * steeper + 127.5)))),
  );
}

/** How far from a part a click still means it, px of the map. */
const REACH = 24;

/** The part at a place of the map, or the nearest within reach; 0 where there is none. */
export function partAt({ width, height, labels }: MovingParts, x: number, y: number): number {
  const [column, row] = [Math.floor(x), Math.floor(y)];
  let nearest = { part: 0, squared: REACH * REACH + 1 };
  for (let v = Math.max(0, row - REACH); v <= Math.min(height - 1, row + REACH); v++) {
    for (let u = Math.max(0, column - REACH); u <= Math.min(width - 1, column + REACH); u++) {
      const part = labels[v * width + u];
      const squared = (u - column) ** 2 + (v - row) ** 2;
      if (part > 0 && squared < nearest.squared) nearest = { part, squared };
    }
  }
  return nearest.part;
}

/** The largest parts that move, each as a mask of a size. */
export function proposedMasks(
  map: MovingParts & { readonly parts: readonly { readonly area: number }[] },
  size: Size,
): Mask[] {
  const all = map.parts.reduce((sum, part) => sum + part.area, 0);
  return map.parts
    .slice(0, MOST_PROPOSED)
    .flatMap(({ area }, place) => (area < all * WORTH ? [] : [partMask(map, place + 1, size)]));
}
