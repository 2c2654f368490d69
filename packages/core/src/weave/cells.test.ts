import { describe, expect, it } from 'vitest';
import { createFrame, type PixelFrame } from '../pixels/index.js';
import { seeded } from '../testing/seeded.js';
import { cellMeans, cellSquare, gridOf, openCellSquares } from './cells.js';
import { createPlanes, cutPlanes, type Planes, putFrame, quarterPlanes } from './planes.js';
import { cellStatistics, choosePlateFrame } from './statistics.js';

function noisy(width: number, height: number, seed: number, alpha = 255): PixelFrame {
  const random = seeded(seed);
  const frame = createFrame(width, height);
  for (let i = 0; i < frame.rgba.length; i++) frame.rgba[i] = i % 4 === 3 ? alpha : 256 * random();
  return frame;
}

function planesOf(frames: readonly PixelFrame[], plain = false, room = 0): Planes {
  const planes = createPlanes(frames[0], frames.length + room, plain);
  for (const [i, frame] of frames.entries()) putFrame(planes, i, frame);
  return planes;
}

const SIZES = [
  [64, 32],
  [61, 35],
  [13, 7],
  [2, 2],
  [1, 9],
] as const;

describe('planes', () => {
  it.each(SIZES)('hold luma and chroma of every place, %i × %i', (width, height) => {
    const frame = noisy(width, height, 5);
    const planes = planesOf([frame]);
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const i = (y * width + x) * 4;
        const [r, g, b] = frame.rgba.subarray(i, i + 3);
        const wanted = 0.299 * r + 0.587 * g + 0.114 * b;
        expect(Math.abs(planes.luma[y * planes.pitch + x] - wanted)).toBeLessThan(1.5);
      }
    }
    const mean = (c: number) => {
      let [sum, count] = [0, 0];
      for (let y = 0; y < Math.min(2, height); y++) {
        for (let x = 0; x < Math.min(2, width); x++, count++) sum += frame.rgba[(y * width + x) * 4 + c];
      }
      return sum / count;
    };
    const blue = 128 - 0.168736 * mean(0) - 0.331264 * mean(1) + 0.5 * mean(2);
    const red = 128 + 0.5 * mean(0) - 0.418688 * mean(1) - 0.081312 * mean(2);
    expect(Math.abs(planes.chroma[0] - blue)).toBeLessThan(1.5);
    expect(Math.abs(planes.chroma[1] - red)).toBeLessThan(1.5);
  });

  it('lie on grey where a picture is clear', () => {
    const { luma } = planesOf([noisy(16, 16, 2, 0)]);
    expect(new Set(luma)).toEqual(new Set([128]));
  });

  it('refuse a frame of another size, and no size at all', () => {
    const planes = createPlanes({ width: 16, height: 8 }, 2);
    expect(() => putFrame(planes, 0, createFrame(8, 8))).toThrow('8 × 8 px does not fit planes of 16 × 8');
    expect(() => createPlanes({ width: 0, height: 8 }, 2)).toThrow(RangeError);
  });

  it('of a quarter are the means of what they cover', () => {
    const frame = noisy(64, 32, 8);
    const planes = planesOf([frame]);
    const small = quarterPlanes(planes);
    for (const [x, y] of [
      [0, 0],
      [7, 3],
      [15, 7],
    ]) {
      let sum = 0;
      for (let v = 4 * y; v < 4 * y + 4; v++)
        for (let u = 4 * x; u < 4 * x + 4; u++) sum += planes.luma[v * planes.pitch + u];
      expect(Math.abs(small.luma[y * small.pitch + x] - sum / 16)).toBeLessThanOrEqual(0.5);
    }
  });

  it('cut out hold the frames in between', () => {
    const planes = planesOf([1, 2, 3, 4].map((seed) => noisy(24, 16, seed)));
    const cut = cutPlanes(planes, 1, 3, 1);
    expect(cut.count).toBe(3);
    const bytes = planes.pitch * planes.paddedHeight;
    expect(cut.luma.slice(0, 2 * bytes)).toEqual(planes.luma.slice(bytes, 3 * bytes));
  });
});

describe('squares of cells', () => {
  it.each(SIZES.flatMap(([width, height]) => [4, 8].map((cell) => [width, height, cell as 4 | 8] as const)))(
    'are the same by the kernel and in plain TypeScript, %i × %i in cells of %i',
    (width, height, cell) => {
      const frames = [1, 2, 3].map((seed) => noisy(width, height, seed));
      const grid = gridOf({ width, height }, cell);
      const cells = grid.cols * grid.rows;
      const [fast, plain] = [false, true].map((isPlain) => {
        const planes = planesOf(frames, isPlain);
        expect(planes.kernel === null).toBe(isPlain);
        const out = new Float32Array(cells + 3);
        openCellSquares(planes, grid).between(0, 2, out, 2);
        return out;
      });
      expect(fast).toEqual(plain);
    },
  );

  it('are the mean over each cell, of luma and half of chroma', () => {
    const planes = planesOf([noisy(16, 8, 1), noisy(16, 8, 2)]);
    const grid = gridOf(planes, 8);
    const out = new Float32Array(2);
    openCellSquares(planes, grid).between(0, 1, out);
    for (const cell of [0, 1]) {
      let [light, colour] = [0, 0];
      const bytes = planes.pitch * planes.paddedHeight;
      for (let y = 0; y < 8; y++) {
        for (let x = cell * 8; x < cell * 8 + 8; x++) {
          light += (planes.luma[y * 16 + x] - planes.luma[bytes + y * 16 + x]) ** 2 / 64;
          if (y < 4) colour += (planes.chroma[y * 16 + x] - planes.chroma[bytes / 2 + y * 16 + x]) ** 2 / 16;
        }
      }
      // Chroma counts Cb and Cr of sixteen places each: half their sum of squares a place.
      expect(out[cell]).toBeCloseTo(light + colour / 2, 1);
    }
  });

  it('of one cell alone are those of all, at the edges too', () => {
    for (const cell of [4, 8] as const) {
      const planes = planesOf([noisy(45, 27, 1), noisy(45, 27, 2)]);
      const grid = gridOf(planes, cell);
      const out = new Float32Array(grid.cols * grid.rows);
      openCellSquares(planes, grid).between(0, 1, out);
      for (let at = 0; at < out.length; at++) {
        expect(cellSquare(planes, grid, at, 0, 1) / out[at]).toBeCloseTo(1, 4);
      }
    }
  });

  it('of grids over the same planes do not disturb each other', () => {
    const planes = planesOf([noisy(32, 16, 1), noisy(32, 16, 2)]);
    const [fine, coarse] = [
      openCellSquares(planes, gridOf(planes, 4)),
      openCellSquares(planes, gridOf(planes, 8)),
    ];
    const [first, again] = [new Float32Array(8), new Float32Array(8)];
    coarse.between(0, 1, first);
    fine.between(0, 1, new Float32Array(32));
    coarse.between(0, 1, again);
    expect(again).toEqual(first);
  });
});

/** Frames of one colour each but for a square that swings. */
function swinging(count: number, period: number, seed = 0): PixelFrame[] {
  return Array.from({ length: count }, (_, t) => {
    const frame = seed > 0 ? noisy(64, 48, seed + t) : createFrame(64, 48);
    for (let p = 0; p < 64 * 48; p++) {
      const at = 20 + 14 * Math.sin((2 * Math.PI * t) / period);
      const inside = Math.abs((p % 64) - at) < 6 && Math.abs(Math.floor(p / 64) - 24) < 8;
      for (let c = 0; c < 3; c++) {
        const grain = seed > 0 ? (frame.rgba[p * 4 + c] - 128) / 32 : 0;
        frame.rgba[p * 4 + c] = (inside ? 210 : 90) + grain;
      }
      frame.rgba[p * 4 + 3] = 255;
    }
    return frame;
  });
}

describe('statistics of cells', () => {
  it('tell what moves from what stands still, with noise and without', () => {
    for (const seed of [0, 40]) {
      const frames = swinging(60, 24, seed);
      const planes = planesOf([...frames, frames[0]]);
      const grid = gridOf(planes, 8);
      const { alive, step } = cellStatistics(planes, grid);
      // The square stays in the middle rows and the left columns.
      for (let cell = 0; cell < alive.length; cell++) {
        const [x, y] = [cell % grid.cols, Math.floor(cell / grid.cols)];
        if (y === 0 || y === 5 || x >= 6) expect(alive[cell]).toBe(0);
      }
      expect(Math.max(...alive)).toBe(1);
      expect(Math.max(...step)).toBeGreaterThan(50);
    }
  });

  it('give the variance of any stretch as summing it up does', () => {
    const frames = swinging(40, 17);
    const planes = planesOf([...frames, frames[3]]);
    const grid = gridOf(planes, 8);
    const { variance } = cellStatistics(planes, grid);
    const means = Array.from({ length: 40 }, (_, f) => {
      const row = new Float32Array(grid.cols * grid.rows);
      cellMeans(planes, grid, f, row);
      return row[2 * grid.cols + 2];
    });
    for (const [from, to] of [
      [0, 40],
      [5, 22],
      [31, 33],
    ]) {
      const part = means.slice(from, to);
      const mean = part.reduce((a, b) => a + b, 0) / part.length;
      const wanted = part.reduce((sum, value) => sum + (value - mean) ** 2, 0) / part.length;
      expect(variance(2 * grid.cols + 2, from, to)).toBeCloseTo(wanted, 2);
    }
  });

  it('take a plate that most frames resemble', () => {
    const frames = swinging(50, 25);
    // Something passes through in a tenth of them.
    for (let t = 20; t < 25; t++) frames[t] = noisy(64, 48, t);
    const planes = planesOf(frames, false, 1);
    const chosen = choosePlateFrame(planes);
    expect(chosen < 20 || chosen >= 25).toBe(true);
  });
});
