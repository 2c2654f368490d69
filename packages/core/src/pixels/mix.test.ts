import { describe, expect, it } from 'vitest';
import { seeded } from '../testing/seeded.js';
import { createFrame, mixFrames, type PixelFrame } from './index.js';

function noise(seed: number, alpha: (random: () => number) => number): PixelFrame {
  const random = seeded(seed);
  const frame = createFrame(9, 7);
  for (let i = 0; i < frame.rgba.length; i++) {
    frame.rgba[i] = i % 4 === 3 ? alpha(random) : Math.floor(random() * 256);
  }
  return frame;
}
const opaque = () => 255;

const blendFrames = (a: PixelFrame, b: PixelFrame, share: number) => mixFrames([a, b], [1 - share, share]);

describe('a dissolve', () => {
  it.each([4, 13])('is what weighing two frames by hand gives, to the byte (seed %i)', (seed) => {
    const any = (random: () => number) => Math.floor(random() * 256);
    const [a, b] = [noise(seed, any), noise(seed + 1, any)];
    for (const share of [0, 1 / 9, 0.25, 0.5, 7 / 9, 1]) {
      const mixed = blendFrames(a, b, share);
      for (let i = 0; i < mixed.rgba.length; i += 4) {
        const [from, to] = [a.rgba[i + 3] * (1 - share), b.rgba[i + 3] * share];
        expect(mixed.rgba[i + 3]).toBe(Math.round(from + to));
        if (from + to === 0) continue;
        for (let c = i; c < i + 3; c++) {
          expect(mixed.rgba[c]).toBe(Math.round((a.rgba[c] * from + b.rgba[c] * to) / (from + to)));
        }
      }
    }
  });

  it.each([3, 8, 21])(
    'of opaque frames lies between them by its share, and ends in them (seed %i)',
    (seed) => {
      const [a, b] = [noise(seed, opaque), noise(seed + 1, opaque)];
      expect(blendFrames(a, b, 0).rgba).toEqual(a.rgba);
      expect(blendFrames(a, b, 1).rgba).toEqual(b.rgba);
      const third = blendFrames(a, b, 1 / 3);
      for (let i = 0; i < third.rgba.length; i++) {
        expect(Math.abs(third.rgba[i] - (a.rgba[i] * 2 + b.rgba[i]) / 3)).toBeLessThanOrEqual(0.51);
      }
    },
  );

  it.each([5, 34])('of see-through frames weighs colours by alpha (seed %i)', (seed) => {
    const any = (random: () => number) => Math.floor(random() * 256);
    const [a, b] = [noise(seed, any), noise(seed + 1, any)];
    const half = blendFrames(a, b, 0.5);
    for (let i = 0; i < half.rgba.length; i += 4) {
      const [from, to] = [a.rgba[i + 3], b.rgba[i + 3]];
      expect(Math.abs(half.rgba[i + 3] - (from + to) / 2)).toBeLessThanOrEqual(0.51);
      if (from + to === 0) continue;
      const wanted = (a.rgba[i] * from + b.rgba[i] * to) / (from + to);
      expect(Math.abs(half.rgba[i] - wanted)).toBeLessThanOrEqual(0.51);
    }
  });

  it('leaves both as they were, and refuses what differs in size', () => {
    const [a, b] = [noise(1, opaque), noise(2, opaque)];
    const copy = a.rgba.slice();
    blendFrames(a, b, 0.5);
    expect(a.rgba).toEqual(copy);
    expect(() => blendFrames(a, createFrame(3, 3), 0.5)).toThrow('cannot be mixed');
  });
});

/** Three tables of shares that make one whole everywhere; in many cells one frame stands alone. */
function sharesOf(seed: number, cells: number): Float32Array[] {
  const random = seeded(seed);
  const shares = [0, 1, 2].map(() => new Float32Array(cells));
  for (let cell = 0; cell < cells; cell++) {
    const [one, other] = [Math.floor(3 * random()), Math.floor(3 * random())];
    const share = random() < 0.5 ? 1 : random();
    shares[one][cell] += share;
    shares[other][cell] += 1 - share;
  }
  return shares;
}

describe('a mixture by a map', () => {
  const picture = (seed: number, isClear = false): PixelFrame => {
    const random = seeded(seed);
    const frame = createFrame(45, 31);
    for (let i = 0; i < frame.rgba.length; i++) {
      frame.rgba[i] = i % 4 === 3 && !isClear ? 255 : Math.floor(256 * random());
    }
    return frame;
  };
  const evenMap = (share: number) => ({
    ...{ cols: 6, rows: 4, across: 5.625, down: 3.875 },
    shares: [new Float32Array(24).fill(1 - share), new Float32Array(24).fill(share)],
  });

  it.each([0, 0.25, 0.5, 0.8125, 1])(
    'by a map that is the same everywhere is a crossfade, to the byte (%f)',
    (share) => {
      for (const isClear of [false, true]) {
        const frames = [picture(1, isClear), picture(2, isClear)];
        const even = mixFrames(frames, [1 - share, share]);
        const mapped = mixFrames(frames, evenMap(share));
        // What is clear keeps colours that nobody sees.
        for (let i = 0; i < even.rgba.length; i += 4) {
          expect(mapped.rgba[i + 3]).toBe(even.rgba[i + 3]);
          if (even.rgba[i + 3] > 0) expect(mapped.rgba.slice(i, i + 3)).toEqual(even.rgba.slice(i, i + 3));
        }
      }
    },
  );

  it.each([1, 2, 3])('by a map is the bilinear mean at every place (seed %i)', (seed) => {
    const [cols, rows, across, down] = [7, 5, 45 / 7, 31 / 7];
    const shares = sharesOf(seed, cols * rows);
    const frames = shares.map((_, k) => picture(10 + k));
    const mixed = mixFrames(frames, { cols, rows, across, down, shares });
    const clamp = (value: number, most: number) => Math.max(0, Math.min(most, value));
    for (let y = 0; y < 31; y++) {
      for (let x = 0; x < 45; x++) {
        const u = ((x + 0.5) * across) / 45 - 0.5;
        const v = ((y + 0.5) * down) / 31 - 0.5;
        const [c, r] = [Math.floor(u), Math.floor(v)];
        let wanted = 0;
        for (const [k, table] of shares.entries()) {
          const of = (col: number, row: number) => table[clamp(row, rows - 1) * cols + clamp(col, cols - 1)];
          const top = of(c, r) + (of(c + 1, r) - of(c, r)) * (u - c);
          const bottom = of(c, r + 1) + (of(c + 1, r + 1) - of(c, r + 1)) * (u - c);
          wanted += (top + (bottom - top) * (v - r)) * frames[k].rgba[(y * 45 + x) * 4];
        }
        expect(Math.abs(mixed.rgba[(y * 45 + x) * 4] - wanted)).toBeLessThan(0.51);
      }
    }
  });

  it('refuses what cannot be mixed', () => {
    expect(() => mixFrames([], [])).toThrow(RangeError);
    expect(() => mixFrames([picture(1)], [0.5, 0.5])).toThrow('each needs a share');
    expect(() => mixFrames([picture(1), createFrame(3, 3)], [0.5, 0.5])).toThrow('cannot be mixed');
  });
});
