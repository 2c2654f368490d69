import { type ShareRect, type Veil, veilAt } from '../dress/index.js';
import type { Recipe, Take } from '../recipe/index.js';
import { framesNeeded } from '../timing/index.js';
import { layersOf, loopOf } from './plan-render.js';

/**
 * Shown veils that hide nothing: on no frame that the loop shows do they lie within the part of the picture that
 * is seen. Somebody may believe that something is hidden.
 */
export function idleVeils(recipe: Recipe, take: Pick<Take, 'times' | 'size'>): readonly Veil[] {
  const shown = recipe.dress.veils.filter((veil) => veil.shown);
  if (shown.length === 0) return [];
  const frames = shownFrames(recipe, take);
  const part = seenPart(recipe, take);
  return shown.filter(
    (veil) =>
      !frames.some((frame) => {
        const at = veilAt(veil, frame);
        return at !== null && meets(at, part);
      }),
  );
}

/** Frames of the take that reach the eye; of what is woven, all that it may be woven from. */
function shownFrames(recipe: Recipe, take: Pick<Take, 'times'>): number[] {
  const loop = loopOf(recipe, take);
  const picks = [loop.reel, ...layersOf(recipe, loop, take).map(({ reel }) => reel)].flat();
  const { start, end } = recipe.span;
  const woven = picks.some((pick) => pick.woven !== undefined);
  const plate = recipe.still.plate?.kind === 'frame' ? [recipe.still.plate.frame] : [];
  const frames = new Set([
    ...picks.flatMap(framesNeeded),
    ...(woven ? Array.from({ length: end - start }, (_, i) => start + i) : []),
    ...plate,
  ]);
  return [...frames];
}

function seenPart({ framing: { crop } }: Recipe, { size }: Pick<Take, 'size'>): ShareRect {
  if (!crop) return { x: 0, y: 0, width: 1, height: 1 };
  return {
    x: crop.x / size.width,
    y: crop.y / size.height,
    width: crop.width / size.width,
    height: crop.height / size.height,
  };
}

function meets(one: ShareRect, other: ShareRect): boolean {
  return (
    one.x < other.x + other.width &&
    other.x < one.x + one.width &&
    one.y < other.y + other.height &&
    other.y < one.y + one.height
  );
}
