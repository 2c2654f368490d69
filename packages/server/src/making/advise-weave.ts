import type { WeaveAdvice } from '@muted-pond/core/api';
import { WOVEN_LIMITS, WOVEN_ROOM } from '@muted-pond/core/loop';
import { takeOf } from '@muted-pond/core/recipe';
import { adviceSpan, planWeaving, type WeaveAdviceAsk, weaveWish, wovenPart } from '@muted-pond/core/render';
import { meanRate } from '@muted-pond/core/timing';
import { findLengths } from '@muted-pond/core/weave';
import { sourceFile } from './making-file.js';
import type { MakingTask } from './making-task.js';
import { look } from './weaves.js';

export interface WeaveAdviceTask extends MakingTask, WeaveAdviceAsk {}

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
  const span = adviceSpan(task, take);
  const perSecond = meanRate(take.times);
  const shortest = Math.max(WOVEN_LIMITS.frames.min, Math.ceil(task.length.min * perSecond - 1e-6));
  const longest = Math.min(
    WOVEN_LIMITS.frames.max,
    Math.floor(task.length.max * perSecond + 1e-6),
    span.end - span.start - 2 * WOVEN_ROOM - 1,
  );
  if (longest < shortest) return null;
  const wished = weaveWish(recipe, span, shortest);
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
    score: part.seam.score,
    spread: part.spread,
    lengths,
  };
}
