import type { Looks, MovementFinder } from '../looks/index.js';
import type { LoopReel } from '../loop-reel.js';
import { mixedWithOtherScenes } from '../other-scenes.js';
import { type ClosedReel, closedReel, planJoint } from './joint-plan.js';
import { type JointScore, measureJoint } from './joint-score.js';

/** The take that joints are measured on. */
export interface MeasuredTake {
  readonly looks: Looks;
  /** Has the looks of some frames at hand; those that lie outside the take are left out. */
  load(frames: readonly number[]): Promise<void>;
  readonly finder: MovementFinder;
  /** First frames of other scenes, rising. */
  readonly cuts: readonly number[];
}

/** Where nothing is joined nothing is seen. */
export const NO_JOINT: JointScore = {
  score: 100,
  figures: { ghost: 0, jump: 0, bend: 0 },
  fault: 'jump',
  map: { columns: 1, rows: 1, values: new Float32Array(1) },
};

/**
 * How a round closes, its looks loaded first.
 * @param weights how much each pixel of a look counts, 0–1; null: as much as any other.
 * @throws what loading throws.
 */
export async function measureClosing(
  { looks, load, finder }: MeasuredTake,
  reel: ClosedReel,
  weights: Float32Array | null = null,
): Promise<JointScore | null> {
  await load(planJoint(reel).frames);
  return measureJoint(looks, finder, reel, weights);
}

/**
 * The same of a loop. Where another scene shows through the joint, nothing that is like before or after makes up for
 * it.
 */
export async function measureReelSeam(
  take: MeasuredTake,
  loop: Pick<LoopReel, 'reel' | 'round' | 'items' | 'melted'>,
  weights: Float32Array | null = null,
): Promise<JointScore | null> {
  if (loop.items.length < 2) return NO_JOINT;
  const seen = await measureClosing(take, closedReel(loop), weights);
  return seen && mixedWithOtherScenes(loop, take.cuts) > 0 ? { ...seen, score: 0, fault: 'ghost' } : seen;
}
