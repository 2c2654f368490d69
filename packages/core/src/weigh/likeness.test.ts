import { describe, expect, it } from 'vitest';
import { createFrame, type PixelFrame } from '../pixels/index.js';
import { copyOf, movingBall, noiseFrame } from '../testing/pictures.js';
import { seeded } from '../testing/seeded.js';
import {
  createLikenessMeter,
  createSimilarityMeter,
  frameSimilarity,
  measureLikeness,
  similarityOfPlanes,
  structuralSimilarity,
} from './index.js';
import { toLumaChroma } from './luma.js';

/** Every 8×8 window every 4 px, straight from the paper's equation 13. */
function slowSimilarity(a: Float32Array, b: Float32Array, width: number, height: number): number {
  const c1 = (0.01 * 255) ** 2;
  const c2 = (0.03 * 255) ** 2;
  const scores: number[] = [];
  for (let top = 0; top + 8 <= Math.floor(height / 4) * 4; top += 4) {
    for (let left = 0; left + 8 <= Math.floor(width / 4) * 4; left += 4) {
      const xs: number[] = [];
      const ys: number[] = [];
      for (let k = 0; k < 64; k++) {
        const p = (top + (k >> 3)) * width + left + (k & 7);
        xs.push(a[p]);
        ys.push(b[p]);
      }
      const mean = (v: number[]) => v.reduce((sum, value) => sum + value, 0) / 64;
      const [mx, my] = [mean(xs), mean(ys)];
      const vx = mean(xs.map((value) => (value - mx) ** 2));
      const vy = mean(ys.map((value) => (value - my) ** 2));
      const cov = mean(xs.map((value, i) => (value - mx) * (ys[i] - my)));
      scores.push(((2 * mx * my + c1) * (2 * cov + c2)) / ((mx * mx + my * my + c1) * (vx + vy + c2)));
    }
  }
  return scores.reduce((sum, score) => sum + score, 0) / scores.length;
}

describe('likeness', () => {
  it('of planes is that of the paper, window by window (10 seeds)', () => {
    for (let seed = 1; seed <= 10; seed++) {
      const random = seeded(seed);
      const [width, height] = [13 + seed * 3, 11 + seed * 2];
      const a = Float32Array.from({ length: width * height }, () => random() * 255);
      const b = a.map((value) => value + (random() - 0.5) * 20 * seed);
      expect(structuralSimilarity(a, b, width, height)).toBeCloseTo(slowSimilarity(a, b, width, height), 5);
    }
  });

  it('straight from the pixels is that of the planes (12 seeds and sizes)', () => {
    for (let seed = 1; seed <= 12; seed++) {
      const random = seeded(seed);
      const [width, height] = [3 + seed * 5, 2 + seed * 4];
      const a = noiseFrame(width, height, random);
      const b = createFrame(
        width,
        height,
        a.rgba.map((level) => level * (1 - 0.3 * random())),
      );
      const planes = similarityOfPlanes(toLumaChroma(a), toLumaChroma(b), width, height);
      expect(frameSimilarity(a, b), `${width} × ${height}`).toBeCloseTo(planes, 6);
    }
  });

  it('of equal reels is 1, without motion error or shimmer', () => {
    const reel = movingBall(40, 30, 4, { grain: 3 });
    const { ssim, motionError, shimmer, smoothPsnr } = measureLikeness(reel, copyOf(reel));
    expect(ssim).toBeCloseTo(1, 6);
    expect(motionError).toBe(0);
    expect(shimmer).toBeLessThan(1);
    expect(smoothPsnr).toBe(Number.POSITIVE_INFINITY);
  });

  it('falls as noise grows', () => {
    const reel = movingBall(60, 40, 3);
    const scores = [2, 8, 30].map((amount) => {
      const random = seeded(amount);
      const worse = copyOf(reel);
      for (const { rgba } of worse) {
        for (let at = 0; at < rgba.length; at++) {
          if (at % 4 !== 3) rgba[at] = Math.max(0, Math.min(255, rgba[at] + (random() - 0.5) * amount));
        }
      }
      return measureLikeness(reel, worse).ssim;
    });
    expect(scores[0]).toBeGreaterThan(scores[1]);
    expect(scores[1]).toBeGreaterThan(scores[2]);
  });

  it('sees a still picture that flickers as shimmer, and one that stands still as lost motion', () => {
    const still = [flat(100), flat(100), flat(100)];
    const flicker = [flat(100), flat(104), flat(100)];
    expect(measureLikeness(still, flicker).shimmer).toBeCloseTo(4, 4);
    const moving = [flat(100), flat(110), flat(120)];
    const frozen = [flat(100), flat(100), flat(100)];
    expect(measureLikeness(moving, frozen).motionError).toBeCloseTo(10, 4);
  });

  it('measures smooth error after a 5 × 5 mean: a shift counts, fine noise hardly', () => {
    const reel = [flat(100)];
    expect(measureLikeness(reel, [flat(103)]).smoothPsnr).toBeCloseTo(20 * Math.log10(255 / 3), 3);
    const checked = flat(100);
    for (let p = 0; p < 40 * 40; p++)
      checked.rgba.fill((p + Math.floor(p / 40)) % 2 ? 103 : 97, p * 4, p * 4 + 3);
    expect(measureLikeness(reel, [checked]).smoothPsnr).toBeGreaterThan(60);
  });

  it('refuses reels of two lengths or sizes, and none', () => {
    const reel = movingBall(16, 16, 2);
    expect(() => measureLikeness(reel, reel.slice(1))).toThrow('shows 1');
    expect(() => createLikenessMeter().add(reel[0], noiseFrame(8, 8, seeded(1)))).toThrow('8 × 8');
    expect(() => createLikenessMeter().result()).toThrow('No frames');
  });

  it('of frames alone is the same figure', () => {
    const reel = movingBall(60, 44, 5, { grain: 3 });
    const other = movingBall(60, 44, 5, { grain: 9 });
    const meter = createSimilarityMeter();
    for (const [i, frame] of reel.entries()) meter.add(frame, other[i]);
    expect(meter.result()).toBeCloseTo(measureLikeness(reel, other).ssim, 6);
    expect(() => createSimilarityMeter().result()).toThrow('No frames');
  });
});

function flat(level: number): PixelFrame {
  const frame = createFrame(40, 40);
  for (let at = 0; at < frame.rgba.length; at += 4) frame.rgba.set([level, level, level, 255], at);
  return frame;
}
