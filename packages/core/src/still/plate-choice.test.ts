import { describe, expect, it } from 'vitest';
import { type AlignedSignatures, SIGNATURE_BYTES, SIGNATURE_SIZE } from '../motion/index.js';
import { choosePlate, findCalmStretch } from './index.js';

const { width, height } = SIGNATURE_SIZE;

/**
 * Left half moves, with an edge that fades over some columns; along the edge frames differ by what is told.
 */
function footage(edgeLevels: readonly number[]): { aligned: AlignedSignatures; moving: Uint8Array } {
  const values = new Float32Array(edgeLevels.length * SIGNATURE_BYTES);
  for (const [frame, level] of edgeLevels.entries()) {
    for (let p = 0; p < width * height; p++) {
      const x = p % width;
      // Far from the edge frames differ wildly, which must not matter.
      const far = x < 25 || x > 38 ? (frame * 37 + x * 11) % 90 : 0;
      values[frame * SIGNATURE_BYTES + p] = 100 + level + far;
    }
  }
  const moving = Uint8Array.from({ length: width * height }, (_, p) =>
    Math.max(0, Math.min(255, Math.round(((36 - (p % width)) / 8) * 255))),
  );
  const count = edgeLevels.length;
  return { aligned: { count, stride: SIGNATURE_BYTES, values, taken: new Float32Array(3 * count) }, moving };
}
const all = (count: number) => Array.from({ length: count }, (_, i) => i);

describe('the choice of a plate', () => {
  it('takes the frame that is nearest to the others along the edge, and tells by how much', () => {
    const levels = [0, 10, 4, 30, 4, 12, 5];
    const { aligned, moving } = footage(levels);
    const choices = choosePlate(aligned, moving, all(7), all(7), 3);
    const mean = (held: number) => levels.reduce((sum, level) => sum + Math.abs(level - levels[held]), 0) / 7;
    expect(choices?.now).toEqual({ frame: 3, mismatch: expect.closeTo(mean(3), 3) });
    const best = levels.map((_, i) => mean(i)).indexOf(Math.min(...levels.map((_, i) => mean(i))));
    expect(choices?.best).toEqual({ frame: best, mismatch: expect.closeTo(mean(best), 3) });
  });

  it('keeps what is held where nothing is better, and looks only at what it is given', () => {
    const { aligned, moving } = footage([4, 4, 4, 90]);
    expect(choosePlate(aligned, moving, all(3), all(4), 1)?.best.frame).toBe(1);
    expect(choosePlate(aligned, moving, all(3), [3], 3)?.best.frame).toBe(3);
  });

  it('has nothing to say where no edge fades', () => {
    const { aligned } = footage([1, 2, 3]);
    for (const value of [0, 255]) {
      expect(choosePlate(aligned, new Uint8Array(width * height).fill(value), all(3), all(3), 0)).toBeNull();
    }
  });
});

describe('the calm stretch', () => {
  it('is where the edge changes least, and its plate lies in it', () => {
    // Restless, then ten frames within two levels, then restless again.
    const levels = Array.from({ length: 40 }, (_, i) => (i >= 17 && i < 27 ? 50 + (i % 3) : (i * 29) % 97));
    const { aligned, moving } = footage(levels);
    const found = findCalmStretch(aligned, moving, 10);
    expect(found?.span).toEqual({ start: 17, end: 27 });
    expect(found && levels[found.plate]).toBe(51);
    const missed = levels.slice(17, 27).reduce((sum, level) => sum + Math.abs(level - 51), 0) / 10;
    expect(found?.mismatch).toBeCloseTo(missed, 3);
  });

  it('is found in a long take as well, to within the frames that are compared', () => {
    const levels = Array.from({ length: 1000 }, (_, i) => (i >= 600 && i < 700 ? 20 : (i * 31) % 101));
    const { aligned, moving } = footage(levels);
    const found = findCalmStretch(aligned, moving, 90);
    expect(found?.span.end).toBe((found?.span.start ?? 0) + 90);
    expect(found?.span.start).toBeGreaterThanOrEqual(597);
    expect(found?.span.end).toBeLessThanOrEqual(703);
  });

  it('is not there in a take that is shorter, or where nothing fades', () => {
    const { aligned, moving } = footage([1, 2, 3]);
    expect(findCalmStretch(aligned, moving, 4)).toBeNull();
    expect(findCalmStretch(aligned, new Uint8Array(width * height), 2)).toBeNull();
  });
});
