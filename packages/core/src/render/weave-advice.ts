import { type Derivation, identityOf } from '../identity/index.js';
import { type LoopLength, REEL_WEAVE, WOVEN_LIMITS, wovenOver } from '../loop/index.js';
import type { Recipe, Take } from '../recipe/index.js';
import type { Span } from '../timing/index.js';
import { ENGINE_VERSION } from './plan-render.js';
import { stepsInputs } from './run-steps.js';
import { planWeaving, type WeaveWish, wishedWeaves } from './weaving.js';

const WEAVE_ADVICE: Derivation = { name: 'weave advice by its seam', version: ENGINE_VERSION };

/** Frames that are looked at around a span: more footage weaves better, and takes longer. */
const LOOKED_AT = 200;

/** A look whether a recipe can be woven. */
export interface WeaveAdviceAsk {
  readonly recipe: Recipe;
  readonly length: LoopLength;
  /** Where frames may come from: the span itself, or as many around it as are of use. */
  readonly within: 'span' | 'around';
}

/** Where the frames of a weave may come from. */
export function adviceSpan({ recipe, within }: WeaveAdviceAsk, { times }: Pick<Take, 'times'>): Span {
  return within === 'span' ? recipe.span : around(recipe.span, times.starts.length);
}

/**
 * The recipe woven over a span, as if it were asked for.
 * @param frames of the woven loop.
 * @returns null where no part of the recipe goes with the reel.
 */
export function weaveWish(
  recipe: Recipe,
  span: Span,
  frames: number,
): { readonly wish: WeaveWish; readonly woven: Recipe } | null {
  const join = wovenOver(frames);
  const woven: Recipe = { ...recipe, span, loop: { ...recipe.loop, join } };
  const wish = wishedWeaves(woven).find(({ name }) => name === REEL_WEAVE);
  return wish ? { wish, woven } : null;
}

/** How well a recipe can be woven. */
export function weaveAdviceKey(ask: WeaveAdviceAsk, take: Take): string {
  const { recipe, length } = ask;
  const span = adviceSpan(ask, take);
  // How long the loop is to be is what is looked for.
  const wished = weaveWish(recipe, span, WOVEN_LIMITS.frames.min);
  const wish = wished?.wish ?? null;
  const seen = wished ? stepsInputs(planWeaving(wished.woven, take, wished.wish.span)) : {};
  return identityOf(WEAVE_ADVICE, { ...seen, wish, span, length });
}

function around({ start, end }: Span, frames: number): Span {
  const wanted = Math.max(LOOKED_AT, Math.min(2 * (end - start), 2 * LOOKED_AT));
  const from = Math.max(0, Math.min(Math.floor((start + end - wanted) / 2), frames - wanted));
  return { start: from, end: Math.min(frames, from + wanted) };
}
