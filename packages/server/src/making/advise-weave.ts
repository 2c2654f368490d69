import type { WeaveAdvice } from '@muted-pond/core/api';
import { joinOf, type LoopLength, REEL_WEAVE, WOVEN_LIMITS, WOVEN_ROOM } from '@muted-pond/core/loop';
import { type Recipe, takeOf } from '@muted-pond/core/recipe';
import { planWeaving, type WeaveWish, weaveKey, wishedWeaves, wovenPart } from '@muted-pond/core/render';
import { meanRate, type Span } from '@muted-pond/core/timing';
import { findLengths } from '@muted-pond/core/weave';
import { sourceFile } from './making-file.js';
import type { MakingTask } from './making-task.js';
import { look } from './weaves.js';

/** Frames that are looked at around a span: more footage weaves better, and takes longer. */
const LOOKED_AT = 200;

export interface WeaveAdviceTask extends MakingTask {
  readonly length: LoopLength;
  /** Where frames may come from: the span itself, or as many around it as are of use. */
  readonly within: 'span' | 'around';
}

/**
 * Looks whether a piece can be woven: the best common length in the footage around its span, and how well that
 * goes.
 * @returns null where the footage is too short for any length.
 */
export async function adviseWeave(
  task: WeaveAdviceTask,
  onProgress: (done: number) => void = () => {},
): Promise<WeaveAdvice | null> {
  const { recipe } = task;
  const take = takeOf(recipe, task.files.map(sourceFile));
  const frames = take.times.starts.length;
  const span = task.within === 'span' ? recipe.span : around(recipe.span, frames);
  const perSecond = meanRate(take.times);
  const shortest = Math.max(WOVEN_LIMITS.frames.min, Math.ceil(task.length.min * perSecond - 1e-6));
  const longest = Math.min(
    WOVEN_LIMITS.frames.max,
    Math.floor(task.length.max * perSecond + 1e-6),
    span.end - span.start - 2 * WOVEN_ROOM - 1,
  );
  if (longest < shortest) return null;
  const wished = wishFor(recipe, span, shortest);
  if (!wished) return null;
  const { wish, woven } = wished;
  const plan = planWeaving(woven, take, wish.span);
  const looked = await look(task, plan, wish, (done) => onProgress(0.5 * done));
  const lengths = findLengths(looked.take.planes, shortest, longest, (done) => onProgress(0.5 + 0.4 * done));
  if (lengths.length === 0) return null;
  const best = lengths.reduce((a, b) => (b.energy < a.energy ? b : a));
  const join = { ...wish.settings, frames: best.length };
  const part = wovenPart(looked, plan, { ...wish, settings: join }, '');
  return {
    span: { start: wish.span.start, end: wish.span.end },
    join,
    energy: part.energy,
    moving: part.moving,
    score: part.joint.score,
    spread: part.spread,
    lengths,
  };
}

/** All that the advice depends on, beside what the steps say. */
export function weaveAdviceInputs({ recipe, files, length, within }: WeaveAdviceTask): string {
  const take = takeOf(recipe, files.map(sourceFile));
  const span = within === 'span' ? recipe.span : around(recipe.span, take.times.starts.length);
  const wished = wishFor(recipe, span, WOVEN_LIMITS.frames.min);
  const key = wished && weaveKey(planWeaving(wished.woven, take, wished.wish.span), wished.wish);
  return JSON.stringify([key, length]);
}

/** The recipe woven over a span, as if it were asked for; null where no part of it goes with the reel. */
function wishFor(recipe: Recipe, span: Span, frames: number): { wish: WeaveWish; woven: Recipe } | null {
  const join = joinOf({ kind: 'per-pixel' }).over(frames);
  const woven: Recipe = { ...recipe, span, loop: { ...recipe.loop, join } };
  const wish = wishedWeaves(woven).find(({ name }) => name === REEL_WEAVE);
  return wish ? { wish, woven } : null;
}

function around({ start, end }: Span, frames: number): Span {
  const wanted = Math.max(LOOKED_AT, Math.min(2 * (end - start), 2 * LOOKED_AT));
  const from = Math.max(0, Math.min(Math.floor((start + end - wanted) / 2), frames - wanted));
  return { start: from, end: Math.min(frames, from + wanted) };
}
