import { describe, expect, it } from 'vitest';
import { seeded } from '../testing/seeded.js';
import { blurredGround, boxBlur, createFrame, type Size } from './index.js';

/** One mean by its definition, every neighbour added up anew, of one channel. */
function meanByDefinition(values: number[], { width, height }: Size, radius: number): number[] {
  const clamp = (i: number, length: number) => Math.max(0, Math.min(length - 1, i));
  const along = (get: (x: number, y: number, k: number) => number) =>
    Array.from({ length: width * height }, (_, p) => {
      let sum = 0;
      for (let k = -radius; k <= radius; k++) sum += get(p % width, Math.floor(p / width), k);
      return sum / (2 * radius + 1);
    });
  const rows = along((x, y, k) => values[y * width + clamp(x + k, width)]);
  return along((x, y, k) => rows[clamp(y + k, height) * width + x]);
}

describe('a box blur', () => {
  it.each([
    { seed: 3, width: 9, height: 7, radius: 1 },
    { seed: 15, width: 5, height: 12, radius: 3 },
    { seed: 31, width: 4, height: 3, radius: 6 },
    { seed: 44, width: 1, height: 1, radius: 2 },
  ])('is three means of all neighbours, each channel by itself (seed $seed)', ({ seed, radius, ...size }) => {
    const random = seeded(seed);
    const places = size.width * size.height;
    const values = Float32Array.from({ length: places * 4 }, () => Math.floor(random() * 256));
    const blurred = boxBlur(values, size, radius);
    for (let c = 0; c < 4; c++) {
      let wanted = Array.from({ length: places }, (_, p) => values[p * 4 + c]);
      for (let pass = 0; pass < 3; pass++) wanted = meanByDefinition(wanted, size, radius);
      for (const [p, value] of wanted.entries()) expect(blurred[p * 4 + c]).toBeCloseTo(value, 2);
    }
  });

  it('spreads a point as wide as the standard deviation of three boxes', () => {
    const [side, radius] = [61, 4];
    const values = new Float32Array(side * side * 4);
    values[(30 * side + 30) * 4] = 1;
    const blurred = boxBlur(values, { width: side, height: side }, radius);
    let [sum, square] = [0, 0];
    for (let p = 0; p < side * side; p++) {
      sum += blurred[p * 4];
      square += blurred[p * 4] * ((p % side) - 30) ** 2;
    }
    expect(sum).toBeCloseTo(1, 4);
    // Each box of 2r + 1 places has a variance of ((2r + 1)² − 1) / 12; variances add up.
    expect(square).toBeCloseTo((3 * ((2 * radius + 1) ** 2 - 1)) / 12, 2);
  });

  it('leaves what it was given', () => {
    const values = Float32Array.from({ length: 5 * 4 * 4 }, (_, i) => (i * 37) % 256);
    const before = values.slice();
    boxBlur(values, { width: 5, height: 4 }, 2);
    expect(values).toEqual(before);
  });
});

describe('a ground made of the picture', () => {
  /** Stripes one way, a slow change of brightness the other. */
  function striped({ width, height }: Size) {
    const frame = createFrame(width, height);
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0; x < width; x++, i += 4) {
        frame.rgba.set([x % 8 < 4 ? 255 : 0, Math.round((255 * y) / height), 90, 255], i);
      }
    }
    return frame;
  }

  it('has the size that is asked for, wider or higher than the picture', () => {
    for (const size of [
      { width: 320, height: 60 },
      { width: 60, height: 320 },
      { width: 1, height: 1 },
    ]) {
      const ground = blurredGround(striped({ width: 160, height: 120 }), size);
      expect([ground.width, ground.height]).toEqual([size.width, size.height]);
      expect(ground.rgba.every((value, i) => i % 4 !== 3 || value === 255)).toBe(true);
    }
  });

  it('keeps where it is bright and loses what could be made out', () => {
    const size = { width: 200, height: 200 };
    const { rgba } = blurredGround(striped(size), size);
    // Within the edges, where the outermost stripe goes on.
    const line = Array.from({ length: 120 }, (_, x) => rgba[(100 * 200 + x + 40) * 4]);
    expect(Math.max(...line) - Math.min(...line)).toBeLessThan(26);
    const green = (y: number) => rgba[(y * 200 + 100) * 4 + 1];
    expect(green(150) - green(50)).toBeGreaterThan(100);
    expect(Math.abs(green(100) - 128)).toBeLessThan(6);
  });

  it('stretches nothing: what a wide ground shows is the middle of the picture', () => {
    const frame = createFrame(120, 120);
    // White above and below. A ground three times as wide as high shows the middle third and, by the reach of
    // the filter, a few rows more.
    for (let p = 0; p < 120 * 120; p++) {
      const shade = p >= 32 * 120 && p < 88 * 120 ? 0 : 255;
      frame.rgba.set([shade, shade, shade, 255], p * 4);
    }
    const ground = blurredGround(frame, { width: 300, height: 100 });
    expect(Math.max(...ground.rgba.filter((_, i) => i % 4 !== 3))).toBeLessThan(8);
  });
});
