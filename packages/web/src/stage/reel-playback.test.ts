import { describe, expect, it } from 'vitest';
import { reelSteps } from './reel-playback.js';

const round = [10, 10, 20, 30, 40, 20].map((delayCs, source) => ({ source, delayCs }));
const total = (steps: readonly { ms: number }[]) => steps.reduce((sum, { ms }) => sum + ms, 0);

describe('playing a reel', () => {
  it('shows every frame for its own delay', () => {
    expect(reelSteps(round, 'all')).toEqual(round.map(({ delayCs }, place) => ({ place, ms: delayCs * 10 })));
  });

  it('plays only the joint: the last half second, the first, and a rest', () => {
    const steps = reelSteps(round, 'seam');
    expect(steps.map(({ place }) => place)).toEqual([4, 5, 0, 1, 2, 3]);
    // 300 of the fourth, 200 of the fifth; 100, 100, 200 and 100, and then the rest.
    expect(steps.slice(0, -1).map(({ ms }) => ms)).toEqual([300, 200, 100, 100, 200]);
    expect(total(steps.slice(0, 2))).toBe(500);
    expect(steps.at(-1)?.ms).toBeGreaterThan(100 + 300);
  });

  it('of one frame, or of one long one, still has steps', () => {
    expect(reelSteps([{ source: 7, delayCs: 4 }], 'seam').map(({ place }) => place)).toEqual([0, 0]);
    expect(total(reelSteps([{ source: 7, delayCs: 400 }], 'seam').slice(0, 1))).toBe(500);
  });
});
