import type { Reel } from '@muted-pond/core/timing';

/** How much of both sides of the joint is played when only the joint is looked at, ms. */
const SEAM_SIDE_MS = 500;
/** Then it rests, so that the leap back is not taken for the joint. */
const REST_MS = 450;

/** One step of playing: a frame of the round, and for how long. */
export interface ReelStep {
  readonly place: number;
  readonly ms: number;
}

/** The steps of playing a reel round and round: all of it, or the last and the first half second. */
export function reelSteps(round: Reel, part: 'all' | 'seam'): readonly ReelStep[] {
  const steps = round.map(({ delayCs }, place) => ({ place, ms: delayCs * 10 }));
  if (part === 'all') return steps;
  const before = takeMs([...steps].reverse()).reverse();
  const after = takeMs(steps);
  const last = after[after.length - 1];
  return [...before, ...after.slice(0, -1), { ...last, ms: last.ms + REST_MS }];
}

function takeMs(steps: readonly ReelStep[]): ReelStep[] {
  const taken: ReelStep[] = [];
  let left = SEAM_SIDE_MS;
  for (const step of steps) {
    if (left <= 0) break;
    taken.push({ place: step.place, ms: Math.min(step.ms, left) });
    left -= step.ms;
  }
  return taken;
}
