import { describe, expect, it } from 'vitest';
import { seeded } from '../../testing/seeded.js';
import type { LumaPicture } from '../luma-picture.js';
import { type FlowField, steadyFlows } from './index.js';

const SIZE = { width: 90, height: 70 };
const SHIFT = [4.5, -2.25] as const;

/** The same wall, further on with every pair. */
function pairsOf(seed: number, count: number): (readonly [LumaPicture, LumaPicture])[] {
  const random = seeded(seed);
  const waves = Array.from({ length: 16 }, (_, i) => {
    const [turn, length] = [2 * Math.PI * random(), 6 * 1.25 ** i];
    return { x: (6.28 * Math.cos(turn)) / length, y: (6.28 * Math.sin(turn)) / length, at: 6 * random() };
  });
  const drawn = (dx: number, dy: number): LumaPicture => ({
    ...SIZE,
    values: Float32Array.from({ length: SIZE.width * SIZE.height }, (_, p) => {
      const [x, y] = [(p % SIZE.width) - dx, Math.floor(p / SIZE.width) - dy];
      return waves.reduce((sum, wave) => sum + 7 * Math.sin(wave.x * x + wave.y * y + wave.at), 128);
    }),
  });
  return Array.from({ length: count }, (_, n) => [drawn(n, 0), drawn(n + SHIFT[0], SHIFT[1])] as const);
}

function even(u: number, v: number): FlowField {
  const area = SIZE.width * SIZE.height;
  return { ...SIZE, u: new Float32Array(area).fill(u), v: new Float32Array(area).fill(v) };
}

/** Mean distance to the true flow inside a rectangle, px. */
function errorIn({ u, v }: FlowField, inside: (x: number, y: number) => boolean): number {
  let [sum, count] = [0, 0];
  for (let p = 0; p < u.length; p++) {
    if (!inside(p % SIZE.width, Math.floor(p / SIZE.width))) continue;
    sum += Math.hypot(u[p] - SHIFT[0], v[p] - SHIFT[1]);
    count++;
  }
  return sum / count;
}

const inHole = (x: number, y: number) => x > 30 && x < 55 && y > 20 && y < 50;
const inside = (x: number, y: number) => x > 8 && x < SIZE.width - 12 && y > 8 && y < SIZE.height - 8;

describe.each([3, 8, 21])('flows that are steadied (seed %i)', (seed) => {
  const pairs = pairsOf(seed, 3);

  it('take from their neighbours what they guessed wrong themselves', () => {
    const wrong = even(...SHIFT);
    for (let p = 0; p < wrong.u.length; p++) {
      if (inHole(p % SIZE.width, Math.floor(p / SIZE.width))) wrong.u[p] += 9;
    }
    const steady = steadyFlows(pairs, [even(...SHIFT), wrong, even(...SHIFT)]);
    expect(errorIn(wrong, inHole)).toBeCloseTo(9, 4);
    expect(errorIn(steady[1], inHole)).toBeLessThan(1);
  });

  it('leave alone what they know better than their neighbours', () => {
    const steady = steadyFlows(pairs, [even(-6, 5), even(...SHIFT), even(9, 9)]);
    expect(errorIn(steady[1], inside)).toBeLessThan(0.5);
  });

  it('stay as they are where all agree, or where there is only one', () => {
    for (const count of [1, 3]) {
      const flows = Array.from({ length: count }, () => even(...SHIFT));
      for (const { u, v } of steadyFlows(pairs.slice(0, count), flows)) {
        for (const value of u) expect(value).toBeCloseTo(SHIFT[0], 5);
        for (const value of v) expect(value).toBeCloseTo(SHIFT[1], 5);
      }
    }
  });
});
