import { partsOf, type ReelFrame } from '../timing/index.js';
import type { SeamField } from './seam-field.js';

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
    for (const { source, share } of partsOf(pick)) add(source, sign * share);
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
