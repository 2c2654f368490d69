import { describe, expect, it } from 'vitest';
import { createFrame, type PixelFrame } from '../pixels/index.js';
import { copyOf, movingBall, noiseFrame } from '../testing/pictures.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { startFastMasking } from './fast-masking.js';
import { CHROMA_SHARES, chromaClassOf, settle, showSettled } from './index.js';
import { measureMasking } from './masking.js';
import { startPlainMasking } from './plain-masking.js';

const SIDE = 48;

/** A square picture by its colour at each place. */
function picture(colourOf: (x: number, y: number) => readonly number[]): PixelFrame {
  const frame = createFrame(SIDE, SIDE);
  for (let p = 0; p < SIDE * SIDE; p++) {
    frame.rgba.set([...colourOf(p % SIDE, Math.floor(p / SIDE)), 255], p * 4);
  }
  return frame;
}

const MIDDLE = (SIDE / 2) * SIDE + SIDE / 2;

describe('what a picture hides', () => {
  for (const seed of [1, 2, 3, 4, 5, 6]) {
    it(`is measured the same by the kernel and in plain TypeScript, to the bit (seed ${seed})`, () => {
      const random = seeded(seed);
      const [width, height] = [wholeFrom(random, 1, 90), wholeFrom(random, 1, 70)];
      const frames = [
        ...movingBall(width, height, 7, { seed, grain: seed * 3 }),
        noiseFrame(width, height, random),
      ];
      const plain = measureMasking(frames, startPlainMasking);
      const fast = measureMasking(frames, (size) => {
        const tools = startFastMasking(size);
        if (!tools) throw new Error('This Node has no WebAssembly SIMD.');
        return tools;
      });
      expect(fast).toEqual(plain);
      expect(plain.masking).toHaveLength(width * height);
    });
  }

  it('is nothing on flat ground, of any colour, where colour counts least', () => {
    for (const colour of [
      [0, 0, 0],
      [255, 255, 255],
      [200, 30, 90],
    ]) {
      const { masking, chroma } = measureMasking([picture(() => colour)]);
      expect(masking.every((factor) => Math.abs(factor - 1) < 1e-3)).toBe(true);
      expect(chroma.every((which) => which === 0)).toBe(true);
    }
  });

  it('is more where light is busy; there colour counts more, as around letters on a page', () => {
    const page = picture((x, y) => ((x + y) % 4 < 2 ? [250, 250, 250] : [20, 20, 20]));
    const { masking, chroma } = measureMasking([page]);
    expect(masking[MIDDLE]).toBeGreaterThan(5);
    expect(CHROMA_SHARES[chroma[MIDDLE]]).toBeGreaterThan(1);
  });

  it('is more of colour too where colour is busy', () => {
    // The same steps of light, grey and in colours that change with it.
    const grey = picture((x, y) => ((x + y) % 4 < 2 ? [150, 150, 150] : [90, 90, 90]));
    const gaudy = picture((x, y) => ((x + y) % 4 < 2 ? [250, 120, 40] : [10, 70, 240]));
    const [plain, coloured] = [grey, gaudy].map((one) => measureMasking([one]).chroma[MIDDLE]);
    expect(coloured).toBeLessThan(plain);
  });

  it('follows the picture: flat beside busy, without a step between (seed 3)', () => {
    const random = seeded(3);
    const half = picture((x) => (x < SIDE / 2 ? [128, 128, 128] : Array(3).fill(wholeFrom(random, 0, 255))));
    const { masking } = measureMasking([half]);
    const row = Array.from({ length: SIDE }, (_, x) => masking[(SIDE / 2) * SIDE + x]);
    expect(row[2]).toBeCloseTo(1, 3);
    expect(row[SIDE - 3]).toBeGreaterThan(4);
    for (let x = 1; x < SIDE; x++) expect(Math.abs(row[x] - row[x - 1])).toBeLessThan(1);
  });

  it('falls into the nearest class of what colour counts', () => {
    CHROMA_SHARES.forEach((share, which) => {
      for (const off of [0.81, 1, 1.23]) expect(chromaClassOf(share * off)).toBe(which);
    });
    expect(chromaClassOf(1e-6)).toBe(0);
    expect(chromaClassOf(1e6)).toBe(CHROMA_SHARES.length - 1);
  });
});

describe('the cost of redrawing next to redrawn pixels', () => {
  /** How many of its four neighbours are redrawn with a redrawn pixel, beside how many would be by chance. */
  function company(merging: number): number {
    const [width, height, count] = [90, 70, 14];
    const frames = movingBall(width, height, count, { seed: 6, grain: 7 });
    let [all, together] = [0, 0];
    for (const begun of settle(copyOf(frames), 4, { merging }).durations.slice(1)) {
      for (let p = 0; p < begun.length; p++) {
        if (begun[p] === 0 || p % width === 0 || p % width === width - 1) continue;
        all++;
        for (const other of [p - width, p - 1, p + 1, p + width]) if (begun[other] > 0) together++;
      }
    }
    expect(all).toBeGreaterThan(500);
    return together / all / ((4 * all) / ((count - 1) * height * (width - 2)));
  }

  it('is the cheaper the more is merged: pixels are redrawn together', () => {
    const [told, half, merged] = [0, 0.5, 1].map(company);
    expect(half).toBeGreaterThan(told * 1.05);
    expect(merged).toBeGreaterThan(half * 1.05);
  });

  for (const count of [36, 72, 144]) {
    for (const merging of [0, 1]) {
      it(`follows a fade of eight levels within what settle allows, in ${count} frames, merging ${merging}`, () => {
        const levelAt = (f: number) => 100 + (8 * f) / (count - 1);
        const frames = Array.from({ length: count }, (_, f) => {
          const frame = createFrame(16, 8);
          for (let p = 0; p < 16 * 8; p++)
            frame.rgba.set([...Array(3).fill(Math.round(levelAt(f))), 255], p * 4);
          return frame;
        });
        const settled = settle(frames, 3.5, { merging });
        showSettled(settled);
        for (const [f, { rgba }] of settled.frames.entries()) {
          expect(Math.abs(rgba[0] - levelAt(f))).toBeLessThan(3.5);
        }
      });
    }
  }
});

describe('a cut between two scenes', () => {
  it('ends every segment, though places look alike on both sides (seeds 1–6)', () => {
    for (let seed = 1; seed <= 6; seed++) {
      const day = movingBall(64, 40, 6, { seed, grain: 3 });
      const night = copyOf(movingBall(64, 40, 5, { seed: seed + 50, grain: 3 }));
      for (const { rgba } of night) {
        // The upper quarter stays as it is by day.
        for (let at = 64 * 10 * 4; at < rgba.length; at++) if (at % 4 < 3) rgba[at] >>= 3;
      }
      for (const levels of [0, 5]) {
        const { scenes, durations } = settle(copyOf([...day, ...night]), levels);
        expect(scenes).toEqual([0, 6]);
        expect(durations[6].every((length) => length > 0)).toBe(true);
        for (const f of [0, 1, 2, 3, 4, 5]) expect(Math.max(...durations[f])).toBeLessThanOrEqual(6 - f);
      }
    }
  });
});
