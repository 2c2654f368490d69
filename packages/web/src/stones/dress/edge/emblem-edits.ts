import { type Anchor, EMBLEM_LIMITS, type Emblem } from '@muted-pond/core/dress';
import type { Size } from '@muted-pond/core/pixels';
import type { Recipe } from '@muted-pond/core/recipe';
import { changeEntry } from '../dress-edits.js';

/** An emblem to begin with: in the corner where signs stand. */
export function newEmblem(id: string, name: string, hash: string): Emblem {
  return {
    ...{ id, name: name.slice(0, 80), hash, anchor: 'bottom-right', margin: 5, width: 18 },
    ...{ turn: 0, opacity: 100, time: null, shown: true },
  };
}

/**
 * An emblem moved by so many px of the shown picture. It is held by an anchor and a margin, so that it stays put
 * when the crop changes: the nearest anchor to where the hand let it go is taken.
 * @param from the recipe when the hand went down.
 */
export function moveEmblem(
  recipe: Recipe,
  from: Recipe,
  id: string,
  { dx, dy }: { readonly dx: number; readonly dy: number },
  shown: Size,
): Recipe {
  const start = from.dress.emblems.find((one) => one.id === id);
  if (!start) return recipe;
  const smaller = Math.min(shown.width, shown.height);
  const across = placeOf(start, 'across', shown) + dx / shown.width;
  const down = placeOf(start, 'down', shown) + dy / shown.height;
  const anchor = anchorNear(across, down);
  const edge = Math.min(
    anchor.includes('left') ? across * shown.width : Number.POSITIVE_INFINITY,
    anchor.includes('right') ? (1 - across) * shown.width : Number.POSITIVE_INFINITY,
    anchor.includes('top') ? down * shown.height : Number.POSITIVE_INFINITY,
    anchor.includes('bottom') ? (1 - down) * shown.height : Number.POSITIVE_INFINITY,
  );
  const half = ((start.width / 100) * shown.width) / 2;
  const margin = Number.isFinite(edge) ? Math.round(((edge - half) / smaller) * 100) : start.margin;
  return changeEntry(recipe, 'emblems', id, {
    anchor,
    margin: Math.max(0, Math.min(EMBLEM_LIMITS.margin.max, margin)),
  });
}

/** About where its middle lies, a share of the frame. */
function placeOf({ anchor, margin, width }: Emblem, axis: 'across' | 'down', shown: Size): number {
  const room = axis === 'across' ? shown.width : shown.height;
  const half = ((width / 100) * shown.width) / 2 / room;
  const inset = (margin / 100) * (Math.min(shown.width, shown.height) / room);
  const [start, end] = axis === 'across' ? ['left', 'right'] : ['top', 'bottom'];
  if (anchor.includes(start)) return inset + half;
  if (anchor.includes(end)) return 1 - inset - half;
  return 0.5;
}

const THIRD = 1 / 3;

export function anchorNear(across: number, down: number): Anchor {
  const column = across < THIRD ? 'left' : across > 1 - THIRD ? 'right' : '';
  const row = down < THIRD ? 'top' : down > 1 - THIRD ? 'bottom' : '';
  return ([row, column].filter(Boolean).join('-') || 'middle') as Anchor;
}

export function sizeEmblem(recipe: Recipe, from: Recipe, id: string, factor: number): Recipe {
  const start = from.dress.emblems.find((one) => one.id === id);
  if (!start) return recipe;
  const { min, max } = EMBLEM_LIMITS.width;
  return changeEntry(recipe, 'emblems', id, { width: Math.max(min, Math.min(max, start.width * factor)) });
}
