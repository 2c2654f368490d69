import { describe, expect, it } from 'vitest';
import { createFrame, type PixelFrame, type ThreadPool } from '../pixels/index.js';
import { noiseFrame } from '../testing/pictures.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { createSimilarityMeter, frameSimilarity } from './index.js';

/** A threads of one that does the last part first, as threads may. */
const backwards: ThreadPool = {
  allocate: (bytes) => new ArrayBuffer(bytes),
  run(job, parts, start) {
    const doPart = start(job);
    for (let part = parts - 1; part >= 0; part--) doPart(part);
  },
};

function pairs(count: number, width: number, height: number, seed: number): [PixelFrame, PixelFrame][] {
  const random = seeded(seed);
  return Array.from({ length: count }, () => {
    const frame = noiseFrame(width, height, random);
    const other = frame.rgba.map((level, at) => (at % 4 === 3 ? 255 : level * (0.7 + 0.3 * random())));
    return [frame, createFrame(width, height, other)];
  });
}

describe('the mean similarity of a reel', () => {
  it('is that of its frames, however many are held at once and whoever compares them (8 seeds)', () => {
    for (let seed = 1; seed <= 8; seed++) {
      const random = seeded(seed);
      const all = pairs(wholeFrom(random, 1, 9), wholeFrom(random, 8, 60), wholeFrom(random, 8, 50), seed);
      const plain = all.reduce((sum, [a, b]) => sum + frameSimilarity(a, b), 0) / all.length;
      for (const threads of [undefined, backwards]) {
        const meter = createSimilarityMeter(threads);
        for (const [a, b] of all) meter.add(a, b);
        expect(meter.result(), `seed ${seed}`).toBeCloseTo(plain, 12);
      }
    }
  });

  it('goes on over more frames than are held at once', () => {
    // Two of these frames are as much as is held.
    const all = pairs(5, 1250, 800, 3);
    const meter = createSimilarityMeter(backwards);
    for (const [a, b] of all) meter.add(a, b);
    const plain = all.reduce((sum, [a, b]) => sum + frameSimilarity(a, b), 0) / all.length;
    expect(meter.result()).toBeCloseTo(plain, 12);
  });

  it('keeps what it was given, whatever becomes of the frames', () => {
    const [[a, b]] = pairs(1, 40, 30, 4);
    const wanted = frameSimilarity(a, b);
    const meter = createSimilarityMeter();
    meter.add(a, b);
    b.rgba.fill(0);
    expect(meter.result()).toBeCloseTo(wanted, 12);
  });

  it('refuses frames of two sizes', () => {
    const [[a]] = pairs(1, 20, 20, 1);
    const [[c]] = pairs(1, 24, 20, 1);
    const meter = createSimilarityMeter();
    expect(() => meter.add(a, c)).toThrow('24 × 20');
    meter.add(a, a);
    expect(() => meter.add(c, c)).toThrow('24 × 20');
    expect(meter.result()).toBeCloseTo(1, 9);
  });
});
