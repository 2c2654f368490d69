import type { ReelFrame } from '../timing/index.js';
import { type JoinSettings, joinOf } from './joins/index.js';
import type { LoopReel } from './loop-reel.js';
import { mixedWithOtherScenes } from './other-scenes.js';
import type { ReelItem } from './reel-edits.js';
import { jumpBetween, type SeamField } from './seam-field.js';

/** A reel's joint as it now stands. */
export interface ReelSeam {
  /** How unnoticeable it is, 0–100. */
  readonly score: number;
  /** How far the picture jumps from the last frame to the first, in usual steps of this reel. */
  readonly jump: number;
}

/** What of the loop's settings the joint depends on, beside the reel. */
export interface SeamSettings {
  readonly join: JoinSettings;
  readonly reverse: boolean;
}

/** Where another scene shows through the joint, nothing that is like before or after makes up for it. */
const OTHER_SCENE: ReelSeam['score'] = 0;

/**
 * Measures the joint of a reel: how far the last frame's successor is from the first frame, as its join
 * counts that.
 * @param first the source frame that the field's frame 0 is.
 * @param cuts first frames of other scenes, rising.
 */
export function measureReelSeam(
  field: SeamField,
  first: number,
  loop: Pick<LoopReel, 'items' | 'reel' | 'round' | 'melted'>,
  { join, reverse }: SeamSettings,
  cuts: readonly number[] = [],
): ReelSeam {
  const { items } = loop;
  const round = loop.reel.slice(0, loop.round);
  const step = usualReelStep(field, first, round);
  const jump = reelFrameDistance(field, first, round[round.length - 1], round[0]);
  const jumpInSteps = jump / Math.max(step, LEAST_STEP);
  if (items.length < 2) return { score: 100, jump: 0 };
  if (mixedWithOtherScenes(loop, cuts) > 0) return { score: OTHER_SCENE, jump: jumpInSteps };
  const score = joinOf(join).score({
    miss: () => jumpBetween(field, items[0].source - first, successor(items, reverse) - first),
    turning: () =>
      Math.max(
        reelFrameDistance(field, first, items[0], items[1]),
        reelFrameDistance(field, first, items[items.length - 2], items[items.length - 1]),
      ),
    // Edits may have taken out what was mixed.
    melted: items[items.length - 1].blend ? loop.melted : 0,
    usualStep: field.usualStep,
    reelStep: step,
  });
  return { score, jump: jumpInSteps };
}

/** Where hardly anything moves, a step is never taken for less than this, levels. */
const LEAST_STEP = 0.25;

/** The source frame that would follow the last one of the reel. */
function successor(items: readonly ReelItem[], reverse: boolean): number {
  const last = items[items.length - 1];
  const base = items.find((item) => item.source === last.source && item.copy === 0) ?? last;
  if (!reverse) return last.source + base.reach;
  const before = items.findLast((item) => item.source > last.source);
  return last.source - (before ? Math.min(before.source - last.source, base.reach) : 1);
}

function usualReelStep(field: SeamField, first: number, round: readonly ReelFrame[]): number {
  let sum = 0;
  let steps = 0;
  for (let i = 1; i < round.length; i++) {
    sum += reelFrameDistance(field, first, round[i - 1], round[i]);
    steps++;
  }
  return steps > 0 ? sum / steps : 0;
}

/**
 * Distance between two frames of a reel, mixtures included, noise taken out: for weights c that add up to 0,
 * |Σ c x|² = −½ ΣΣ c c |x − x|².
 */
export function reelFrameDistance(field: SeamField, first: number, a: ReelFrame, b: ReelFrame): number {
  const weights = new Map<number, number>();
  const add = (source: number, weight: number) => {
    const frame = Math.max(0, Math.min(field.frames - 1, source - first));
    weights.set(frame, (weights.get(frame) ?? 0) + weight);
  };
  for (const [pick, sign] of [
    [a, 1],
    [b, -1],
  ] as const) {
    const share = pick.blend?.share ?? 0;
    add(pick.source, sign * (1 - share));
    if (pick.blend) add(pick.blend.source, sign * share);
  }
  const frames = [...weights];
  let squared = 0;
  let noise = 0;
  for (const [i, [one, weight]] of frames.entries()) {
    noise += (weight * weight * field.noise) / 2;
    for (let j = 0; j < i; j++) squared -= weight * frames[j][1] * field.squared(one, frames[j][0]);
  }
  return Math.sqrt(Math.max(0, squared - noise));
}
