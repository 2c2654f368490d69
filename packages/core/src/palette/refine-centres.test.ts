import { describe, expect, it } from 'vitest';
import { settle } from '../settle/index.js';
import { copyOf, movingBall, noiseFrame } from '../testing/pictures.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { type ColourHistogram, countColours, countPlainly } from './colour-histogram.js';
import { startClusters } from './fast-clusters.js';
import { countFast } from './fast-count.js';
import { startAssigning } from './fast-nearest.js';
import { movePlainly } from './move-centres.js';
import { assignPlainly, refineCentres } from './refine-centres.js';
import { cutByVariance } from './variance-cut.js';

/** Weighted squared error, each bin with the centre that is nearest, the plain way. */
function slowError(histogram: ColourHistogram, centres: Float64Array): number {
  const { bins, weights, chromaWeights, values } = histogram;
  let sum = 0;
  for (let bin = 0; bin < bins; bin++) {
    let nearest = Number.POSITIVE_INFINITY;
    for (let c = 0; c < centres.length; c += 3) {
      const [luma, blue, red] = [0, 1, 2].map((k) => (centres[c + k] - values[bin * 3 + k]) ** 2);
      nearest = Math.min(nearest, weights[bin] * luma + chromaWeights[bin] * (blue + red));
    }
    sum += nearest;
  }
  return sum;
}

function histogramOf(seed: number): ColourHistogram {
  const frames = [...movingBall(70, 50, 2, { seed, grain: 10 }), noiseFrame(70, 50, seeded(seed))];
  return countColours(settle(frames, 0), 0, 3, 16);
}

describe('centres of a palette', () => {
  for (const seed of [1, 2, 3, 4]) {
    it(`err less than the cut they come from, and as much as is said (seed ${seed})`, () => {
      const histogram = histogramOf(seed);
      const cut = cutByVariance(histogram, 60);
      const { centres, error } = refineCentres(histogram, cut);
      expect(centres).toHaveLength(cut.length);
      const slow = slowError(histogram, centres);
      expect(slow).toBeLessThan(slowError(histogram, cut) * 0.97);
      // Told against the centres before they moved to their means for the last time.
      expect(Math.abs(error / slow - 1)).toBeLessThan(0.02);
    });

    it(`end well from a poor beginning too (seed ${seed})`, () => {
      const histogram = histogramOf(seed);
      const random = seeded(seed * 7);
      // All at first in one corner.
      const poor = Float64Array.from({ length: 60 * 3 }, () => 10 + random() * 4);
      const good = refineCentres(histogram, cutByVariance(histogram, 60));
      const freed = refineCentres(
        histogram,
        refineCentres(histogram, refineCentres(histogram, poor).centres).centres,
      );
      expect(slowError(histogram, freed.centres)).toBeLessThan(slowError(histogram, good.centres) * 1.25);
      expect(slowError(histogram, freed.centres)).toBeLessThan(slowError(histogram, poor) / 20);
    });
  }

  for (const seed of [6, 7, 8]) {
    it(`gather the same by the kernel and in plain TypeScript (seed ${seed})`, () => {
      const histogram = histogramOf(seed);
      const random = seeded(seed);
      const classes = Uint8Array.from({ length: histogram.bins }, () => wholeFrom(random, 0, 5));
      const fast = startAssigning(histogram, classes);
      if (!fast) throw new Error('This Node has no WebAssembly SIMD.');
      const plain = assignPlainly(histogram, classes);
      for (const count of [1, 3, 60, 255]) {
        const centres = cutByVariance(histogram, count);
        const [a, b] = [fast(centres), plain(centres)];
        expect(a).toHaveLength(b.length);
        // A bin that lies between two centres may go to either: what all weigh and err together is the same.
        const total = (sums: Float64Array, k: number) =>
          sums.reduce((sum, one, i) => sum + (i % 8 === k ? one : 0), 0);
        for (let k = 0; k < 8; k++) expect(total(a, k) / total(b, k)).toBeCloseTo(1, 5);
        const apart = a.reduce((sum, one, i) => sum + (i % 8 === 0 ? Math.abs(one - b[i]) : 0), 0);
        expect(apart / total(b, 0)).toBeLessThan(0.002);
      }
    });
  }

  for (const seed of [11, 12, 13, 14, 15]) {
    it(`are cut and moved the same by the kernel and in plain TypeScript, to the bit (seed ${seed})`, () => {
      const histogram = histogramOf(seed);
      const random = seeded(seed);
      const fast = startClusters(histogram);
      if (!fast) throw new Error('This Node has no WebAssembly SIMD.');
      for (const count of [1, 2, wholeFrom(random, 3, 100), 255, 256]) {
        const cut = fast.cut(count);
        expect(cut).toEqual(cutByVariance(histogram, count));
        expect(cut.length).toBeGreaterThan(0);
        // Centres anywhere, some of them with nothing that belongs to them.
        const centres = cut.map((value) => value + (random() - 0.5) * 8);
        const sums = Float64Array.from({ length: (cut.length / 3) * 8 }, () => random() * 500);
        for (let i = 0; i < sums.length; i += 8) if (random() < 0.2) sums.fill(0, i, i + 8);
        for (const relocates of [false, true]) {
          expect(fast.move(centres, sums, relocates)).toEqual(movePlainly(centres, sums, relocates));
        }
      }
      expect(refineCentres(histogram, fast.cut(90), fast.move)).toEqual(
        refineCentres(histogram, cutByVariance(histogram, 90)),
      );
    });
  }

  it('of fewer colours than centres miss nothing', () => {
    const histogram = histogramOf(5);
    const few: ColourHistogram = { ...histogram, bins: 3, exact: null };
    const { centres, error } = refineCentres(few, cutByVariance(few, 8));
    expect(slowError(few, centres)).toBeLessThan(1e-6);
    expect(error).toBeLessThan(1e-3);
  });
});

describe('the histogram', () => {
  for (const seed of [1, 2, 3, 4, 5]) {
    it(`counts the same by the kernel and in plain TypeScript, to the bit (seed ${seed})`, () => {
      const random = seeded(seed);
      const [width, height] = [wholeFrom(random, 1, 70), wholeFrom(random, 1, 50)];
      const frames = [...movingBall(width, height, 3, { seed, grain: 9 }), noiseFrame(width, height, random)];
      const reel = settle(frames, seed % 2 === 0 ? 0 : 4);
      const [fast, plain] = [countFast(reel, 1, 4), countPlainly(reel, 1, 4)];
      expect(plain.length).toBeGreaterThan(0);
      expect(fast).toEqual(plain);
    });
  }

  it('weighs each segment by how long it lasts: all weights are all pixels, where nothing is hidden', () => {
    const reel = settle(copyOf(movingBall(50, 30, 5, { grain: 2 })), 4);
    const flat = { ...reel, masking: new Float32Array(50 * 30).fill(1) };
    const { weights } = countColours(flat, 0, 5, 255);
    expect(weights.reduce((sum, weight) => sum + weight, 0)).toBeCloseTo(50 * 30 * 5, 3);
  });

  it('keeps exact colours only as long as there are few', () => {
    const reel = settle(copyOf(movingBall(50, 30, 2, { grain: 9 })), 0);
    expect(countColours(reel, 0, 2, 5).exact).toBeNull();
    const all = countColours(reel, 0, 2, 1e6).exact;
    const plain = new Set<number>();
    for (const [f, { rgba }] of reel.frames.entries()) {
      for (let p = 0; p < 50 * 30; p++) {
        if (reel.durations[f][p] > 0)
          plain.add((rgba[p * 4] << 16) | (rgba[p * 4 + 1] << 8) | rgba[p * 4 + 2]);
      }
    }
    expect(all).toEqual(plain);
  });
});
