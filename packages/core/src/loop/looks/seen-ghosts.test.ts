import { describe, expect, it } from 'vitest';
import { type DrawnScene, drawnTake, drawnWall } from '../../testing/drawn-looks.js';
import { makeLoop, measureReelSeam, PLAIN_LOOP } from '../index.js';
import { seenGhosts } from './index.js';

const blocks = (...values: number[]) => ({
  columns: values.length,
  rows: 1,
  values: Float32Array.from(values),
});
const hiddenBy = (...values: number[]) => ({
  gradients: blocks(...values),
  ...{ unexplained: blocks(0).values, step: blocks(0).values, speed: blocks(0).values },
  ...{ bend: blocks(0).values, noise: 0, isUsual: () => true },
});

describe('how much of a ghost is seen', () => {
  it('is less the more the footage changes there by itself', () => {
    const [bare, some, much] = seenGhosts(blocks(36, 36, 36), hiddenBy(0, 2, 40)).values;
    expect(bare).toBeCloseTo(3, 5);
    expect(some).toBeLessThan(bare);
    expect(much).toBeLessThan(some);
    expect(much).toBeGreaterThan(0);
  });

  it('is all of it where rounding leaves a mean of nothing below 0', () => {
    expect([...seenGhosts(blocks(0, 16), hiddenBy(-3e-28, -1e-9)).values]).toEqual([0, 2]);
  });

  it('is a number for a recording of a screen: still to the level, but for what leaps in one place', async () => {
    const wall = drawnWall(3);
    const page: DrawnScene = (x, y, t) => {
      const isField = x > 100 && x < 132 && y > 40 && y < 52;
      const typed = isField && x < 100 + 3 * Math.floor(t / 4) && (x + 2 * y) % 5 < 2;
      return { luma: typed ? 30 : Math.round(isField ? 250 : wall(x, y)) };
    };
    const times = { starts: Array.from({ length: 80 }, (_, i) => i / 25), duration: 80 / 25 };
    for (const [start, end] of [
      [4, 40],
      [10, 70],
      [22, 60],
    ]) {
      const loop = makeLoop(times, { start, end }, 12.5, 1, { ...PLAIN_LOOP, speed: 1.5, restEndCs: 120 });
      const seam = await measureReelSeam(drawnTake(page, 80), loop);
      expect(seam?.score).toBeGreaterThanOrEqual(0);
      expect(seam?.score).toBeLessThanOrEqual(100);
    }
  });
});
