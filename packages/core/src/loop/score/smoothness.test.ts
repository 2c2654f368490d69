import { describe, expect, it } from 'vitest';
import { seeded } from '../../testing/seeded.js';
import { createMovementFinder, type Look } from '../looks/index.js';
import { isSmoothGood, type MeasuredTake, measureSmoothness } from './index.js';

const SIZE = { width: 96, height: 72 };
const HALF = { width: 48, height: 36 };

/** A take whose frames are painted by a function of place and time. */
function takeOf(frames: number, level: (x: number, y: number, frame: number) => number): MeasuredTake {
  const looks = Array.from({ length: frames }, (_, frame): Look => {
    const plane = ({ width, height }: typeof SIZE, of: (x: number, y: number) => number) => ({
      ...{ width, height },
      values: Float32Array.from({ length: width * height }, (_, p) => of(p % width, Math.floor(p / width))),
    });
    const grey = plane(HALF, () => 0);
    return { luma: plane(SIZE, (x, y) => level(x, y, frame)), blue: grey, red: grey };
  });
  return {
    looks: { at: (frame) => looks[frame] ?? null },
    load: async () => {},
    finder: createMovementFinder(SIZE),
    cuts: [],
  };
}

/** Something to see at several scales. */
function wall(seed: number): (x: number, y: number) => number {
  const random = seeded(seed);
  const waves = Array.from({ length: 12 }, (_, i) => ({
    x: ((random() - 0.5) * 1.4) / 1.15 ** i,
    y: ((random() - 0.5) * 1.4) / 1.15 ** i,
    at: random() * 6,
  }));
  return (x, y) => waves.reduce((sum, one) => sum + 9 * Math.sin(one.x * x + one.y * y + one.at), 128);
}

describe('smoothness', () => {
  it.each([2, 5, 8])('is good where things move that can be followed (seed %i)', async (seed) => {
    const ground = wall(seed);
    const take = takeOf(12, (x, y, frame) => ground(x - 2.3 * frame, y + 0.9 * frame));
    const figures = await measureSmoothness(take, { start: 0, end: 12 }, 1);
    if (!figures) throw new Error('Nothing was measured.');
    expect(figures.led).toBeGreaterThan(figures.mixed + 6);
    expect(isSmoothGood(figures)).toBe(true);
  });

  it('is not good where nothing leads from one frame to the next', async () => {
    const random = seeded(3);
    const noise = Array.from({ length: 12 }, () =>
      Float32Array.from({ length: 96 * 72 }, () => 255 * random()),
    );
    const take = takeOf(12, (x, y, frame) => noise[frame][y * 96 + x]);
    const figures = await measureSmoothness(take, { start: 0, end: 12 }, 1);
    expect(figures && isSmoothGood(figures)).toBe(false);
  });

  it('of what stands still is as good as can be told', async () => {
    const take = takeOf(9, wall(4));
    const figures = await measureSmoothness(take, { start: 2, end: 9 }, 1);
    expect(figures?.led).toBeGreaterThan(55);
    expect(figures?.mixed).toBeGreaterThan(55);
  });

  it('counts in frames that are taken, and says nothing of fewer than three', async () => {
    const ground = wall(6);
    const asked = new Set<number>();
    const take = takeOf(20, (x, y, frame) => ground(x - frame, y));
    const watched = {
      ...take,
      load: async (frames: readonly number[]) => {
        for (const one of frames) asked.add(one);
      },
    };
    expect(await measureSmoothness(watched, { start: 4, end: 17 }, 4)).not.toBeNull();
    for (const frame of asked) expect((frame - 4) % 4).toBe(0);
    expect(Math.min(...asked)).toBe(4);
    expect(Math.max(...asked)).toBeLessThan(17);
    expect(await measureSmoothness(take, { start: 4, end: 6 }, 1)).toBeNull();
    expect(await measureSmoothness(take, { start: 4, end: 12 }, 4)).toBeNull();
  });
});
