import { describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../../testing/seeded.js';
import { lookBytes, lookSize, readLook, writeLook } from './index.js';

describe('the look of a frame', () => {
  it('is at most 160 px on the longer side, and never larger than the frame', () => {
    expect(lookSize({ width: 1920, height: 1080 })).toEqual({ width: 160, height: 90 });
    expect(lookSize({ width: 1080, height: 1920 })).toEqual({ width: 90, height: 160 });
    expect(lookSize({ width: 16, height: 12 })).toEqual({ width: 16, height: 12 });
  });

  it.each([
    ['white', [255, 255, 255], 255, 0, 0],
    ['black', [0, 0, 0], 0, 0, 0],
    ['red', [255, 0, 0], 76, -43, 127],
    ['blue', [0, 0, 255], 29, 127, -21],
    ['green', [0, 255, 0], 150, -85, -107],
  ] as const)('tells %s by luma and both colours (BT.601)', (_, [r, g, b], luma, blue, red) => {
    const size = { width: 5, height: 3 };
    const rgba = Uint8Array.from({ length: 60 }, (_, i) => [r, g, b, 255][i % 4]);
    const bytes = new Uint8Array(lookBytes(size));
    writeLook(rgba, size, bytes);
    const look = readLook(bytes, size);
    for (const [plane, level] of [
      [look.luma, luma],
      [look.blue, blue],
      [look.red, red],
    ] as const) {
      for (const value of plane.values) expect(Math.abs(value - level)).toBeLessThanOrEqual(1);
    }
  });

  it('shows what can be seen through on middle grey', () => {
    const size = { width: 4, height: 4 };
    const lumaOver = (alpha: number) => {
      const rgba = Uint8Array.from({ length: 64 }, (_, i) => [228, 228, 228, alpha][i % 4]);
      const bytes = new Uint8Array(lookBytes(size));
      writeLook(rgba, size, bytes);
      return readLook(bytes, size).luma.values[5];
    };
    expect([255, 128, 0].map(lumaOver)).toEqual([228, 178, 128]);
  });

  it.each([7, 19, 31])('has the means of its colours, whatever its size (seed %i)', (seed) => {
    const random = seeded(seed);
    const size = { width: wholeFrom(random, 1, 21), height: wholeFrom(random, 1, 21) };
    const rgba = Uint8Array.from({ length: size.width * size.height * 4 }, (_, i) =>
      i % 4 === 3 ? 255 : wholeFrom(random, 0, 255),
    );
    const bytes = new Uint8Array(lookBytes(size));
    writeLook(rgba, size, bytes);
    const { luma, red } = readLook(bytes, size);
    expect(luma.values.length + 2 * red.values.length).toBe(bytes.length);
    const lumaAt = (x: number, y: number) => {
      const i = 4 * (y * size.width + x);
      return 0.299 * rgba[i] + 0.587 * rgba[i + 1] + 0.114 * rgba[i + 2];
    };
    for (let y = 0; y < red.height; y++) {
      for (let x = 0; x < red.width; x++) {
        const under = [0, 1, 2, 3]
          .map((k) => [2 * x + (k & 1), 2 * y + (k >> 1)] as const)
          .filter(([px, py]) => px < size.width && py < size.height);
        const wanted =
          under.reduce((sum, [px, py]) => sum + (rgba[4 * (py * size.width + px)] - lumaAt(px, py)), 0) /
          under.length /
          1.402;
        expect(Math.abs(red.values[y * red.width + x] - wanted)).toBeLessThan(1.5);
      }
    }
  });
});
