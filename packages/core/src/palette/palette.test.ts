import { describe, expect, it } from 'vitest';
import { colourDistance, createFrame, type Rgb } from '../pixels/index.js';
import { settle } from '../settle/index.js';
import { copyOf, movingBall, noiseFrame } from '../testing/pictures.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { bayerTile } from './dithers/bayer.js';
import { blueNoiseTile, encodeRanks } from './dithers/blue-noise.js';
import { BLUE_NOISE_RANKS, BLUE_NOISE_SIDE } from './dithers/blue-noise-ranks.js';
import { voidAndCluster } from './dithers/void-and-cluster.js';
import {
  buildPalette,
  createNearestColour,
  DITHER_NAMES,
  mapColours,
  nearestColourBySearch,
  onePalette,
} from './index.js';

function randomPalette(random: () => number, count: number): Rgb[] {
  return Array.from(
    { length: count },
    () => [0, 1, 2].map(() => wholeFrom(random, 0, 255)) as unknown as Rgb,
  );
}

describe('the nearest colour', () => {
  for (const count of [1, 2, 7, 64, 256]) {
    it(`is the one that the plain search finds, ${count} colours (seed ${count})`, () => {
      const random = seeded(count);
      const palette = randomPalette(random, count);
      const nearest = createNearestColour(palette);
      for (let i = 0; i < 3000; i++) {
        const colour = randomPalette(random, 1)[0];
        expect(nearest.find(...colour)).toBe(nearestColourBySearch(palette, colour));
        expect(nearest.find(...colour)).toBe(nearestColourBySearch(palette, colour));
      }
    });
  }

  it('takes the first of two alike', () => {
    expect(
      createNearestColour([
        [9, 9, 9],
        [50, 50, 50],
        [50, 50, 50],
      ]).find(52, 50, 50),
    ).toBe(1);
  });

  it('refuses palettes that cannot be', () => {
    expect(() => createNearestColour([])).toThrow('1 to 256');
    expect(() => createNearestColour(randomPalette(seeded(1), 257))).toThrow('got 257');
  });
});

describe('the palette', () => {
  it('keeps few colours exactly', () => {
    const frame = createFrame(6, 1);
    const colours: Rgb[] = [
      [0, 0, 0],
      [255, 0, 0],
      [0, 255, 0],
      [0, 0, 255],
      [1, 2, 3],
      [200, 100, 50],
    ];
    colours.forEach((colour, p) => {
      frame.rgba.set([...colour, 255], p * 4);
    });
    const palette = buildPalette(settle([frame], 0), 6);
    expect(new Set(palette.map(String))).toEqual(new Set(colours.map(String)));
  });

  it('has at most the colours asked for, all different, darkest first', () => {
    const reel = settle(movingBall(90, 60, 4, { grain: 12 }), 0);
    for (const count of [1, 2, 3, 16, 100, 256]) {
      const palette = buildPalette(reel, count);
      expect(palette.length).toBeLessThanOrEqual(count);
      expect(new Set(palette.map(String)).size).toBe(palette.length);
      const lumas = palette.map(([r, g, b]) => 0.299 * r + 0.587 * g + 0.114 * b);
      expect(lumas).toEqual([...lumas].sort((a, b) => a - b));
    }
  });

  it('errs less than even steps of the same number, and less with more colours', () => {
    const frames = movingBall(90, 60, 3, { grain: 4 });
    const error = (palette: readonly Rgb[]) => {
      const nearest = createNearestColour(palette);
      let sum = 0;
      for (const { rgba } of frames) {
        for (let at = 0; at < rgba.length; at += 4) {
          const colour: Rgb = [rgba[at], rgba[at + 1], rgba[at + 2]];
          sum += colourDistance(colour, palette[nearest.find(...colour)]);
        }
      }
      return sum;
    };
    const even: Rgb[] = [];
    for (let r = 0; r < 4; r++)
      for (let g = 0; g < 4; g++) for (let b = 0; b < 4; b++) even.push([r * 85, g * 85, b * 85]);
    const reel = settle(copyOf(frames), 0);
    const errors = [8, 64, 200].map((count) => error(buildPalette(reel, count)));
    expect(errors[1]).toBeLessThan(error(even) / 4);
    expect(errors[1]).toBeLessThan(errors[0]);
    expect(errors[2]).toBeLessThan(errors[1]);
  });

  it('of greys has greys only, and settling tints none (20 seeds)', () => {
    for (let seed = 1; seed <= 20; seed++) {
      const random = seeded(seed);
      const frames = movingBall(47, 33, 5, { seed, grain: wholeFrom(random, 1, 9) });
      for (const { rgba } of frames) {
        for (let at = 0; at < rgba.length; at += 4) rgba.fill(rgba[at], at, at + 3);
      }
      const reel = settle(frames, [0, 2, 5][seed % 3], { merging: seed % 2 });
      for (const [f, { rgba }] of reel.frames.entries()) {
        for (let p = 0; p < 47 * 33; p++) {
          if (reel.durations[f][p] === 0) continue;
          const [r, g, b] = rgba.subarray(p * 4, p * 4 + 3);
          expect([g, b], `seed ${seed}, frame ${f}, pixel ${p}`).toEqual([r, r]);
        }
      }
      for (const [r, g, b] of buildPalette(reel, wholeFrom(random, 2, 120))) expect([g, b]).toEqual([r, r]);
    }
  });

  it('refuses counts out of range', () => {
    const reel = settle([noiseFrame(4, 4, seeded(1))], 0);
    expect(() => buildPalette(reel, 0)).toThrow('1 to 256');
    expect(() => buildPalette(reel, 257)).toThrow('257');
  });
});

describe('dithers', () => {
  it('leave what does not change alone', () => {
    const frames = movingBall(40, 30, 3);
    const reel = settle(frames, 3);
    const palette = buildPalette(reel, 12);
    for (const name of DITHER_NAMES) {
      const { plans } = mapColours(reel, onePalette(reel, palette), name, 100);
      plans.forEach((plan, f) => {
        plan.forEach((index, p) => {
          if (reel.durations[f][p] === 0) expect(index).toBe(0);
        });
      });
    }
  });

  it('keep the mean of a flat tone that no palette colour has, and none does not', () => {
    const frame = createFrame(64, 64);
    for (let at = 0; at < frame.rgba.length; at += 4) frame.rgba.set([128, 128, 128, 255], at);
    const reel = settle([frame], 0);
    const palette: Rgb[] = [
      [100, 100, 100],
      [164, 164, 164],
    ];
    const mean = (name: (typeof DITHER_NAMES)[number]) => {
      const [plan] = mapColours(reel, onePalette(reel, palette), name, 100).plans;
      return plan.reduce((sum, index) => sum + palette[index][0], 0) / plan.length;
    };
    expect(mean('none')).toBe(100);
    for (const name of DITHER_NAMES.filter((other) => other !== 'none')) {
      expect(Math.abs(mean(name) - 128), name).toBeLessThan(2.5);
    }
  });

  it('do not carry what no colour can show from a dark wall into a bright window', () => {
    const [width, height] = [64, 48];
    const isWindow = (p: number) => p % width >= 40 && Math.floor(p / width) >= 24;
    for (const name of DITHER_NAMES) {
      const frame = createFrame(width, height);
      for (let p = 0; p < width * height; p++) {
        frame.rgba.set(isWindow(p) ? [240, 200, 120, 255] : [12, 8, 20, 255], p * 4);
      }
      const reel = settle([frame], 0);
      // Nothing in the palette is as dark as the wall.
      const palette: Rgb[] = [
        [40, 36, 52],
        [150, 110, 90],
        [240, 200, 120],
      ];
      const [plan] = mapColours(reel, onePalette(reel, palette), name, 100).plans;
      const dimmed = plan.reduce((sum, entry, p) => sum + Number(isWindow(p) && entry !== 2), 0);
      expect(dimmed / (24 * 24), name).toBeLessThan(0.1);
    }
  });

  it('at strength 0 are no dither', () => {
    const reel = settle(movingBall(40, 30, 2, { grain: 5 }), 0);
    const palette = buildPalette(reel, 20);
    const plain = mapColours(reel, onePalette(reel, palette), 'none', 0).plans;
    for (const name of DITHER_NAMES) {
      mapColours(reel, onePalette(reel, palette), name, 0).plans.forEach((plan, f) => {
        expect(Buffer.compare(plan, plain[f]), name).toBe(0);
      });
    }
  });

  it('Bayer’s 2 × 2 and 4 × 4 are those of the paper', () => {
    const ranks = (side: number) =>
      [...bayerTile(side).values].map((value) => Math.round((value + 0.5) * side * side - 0.5));
    expect(ranks(2)).toEqual([0, 2, 3, 1]);
    expect(ranks(4)).toEqual([0, 8, 2, 10, 12, 4, 14, 6, 3, 11, 1, 9, 15, 7, 13, 5]);
  });

  it('the kept blue noise is what void and cluster makes of seed 20250101, each rank once', () => {
    let state = 20250101;
    const random = () => {
      state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
      return state / 2 ** 32;
    };
    const ranks = voidAndCluster(BLUE_NOISE_SIDE, random);
    expect(encodeRanks(ranks)).toBe(BLUE_NOISE_RANKS);
    expect(new Set(ranks).size).toBe(BLUE_NOISE_SIDE ** 2);
  });

  it('blue noise has little at low frequencies: means of 8 × 8 squares hardly differ', () => {
    const { side, values } = blueNoiseTile();
    const squares: number[] = [];
    for (let y = 0; y < side; y += 8) {
      for (let x = 0; x < side; x += 8) {
        let sum = 0;
        for (let k = 0; k < 64; k++) sum += values[(y + (k >> 3)) * side + x + (k & 7)];
        squares.push(sum / 64);
      }
    }
    const spread = Math.sqrt(squares.reduce((sum, mean) => sum + mean * mean, 0) / squares.length);
    // White noise of this range would have 0.289 / 8 = 0.036.
    expect(spread).toBeLessThan(0.012);
  });
});
