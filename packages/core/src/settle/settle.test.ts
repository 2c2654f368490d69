import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { compileKernel } from '../../../../tools/make-kernel.mjs';
import { createFrame, type PixelFrame } from '../pixels/index.js';
import { copyOf, movingBall, noiseFrame } from '../testing/pictures.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { createKernelStrip } from './fast-strip.js';
import { measureMasking } from './masking.js';
import { createPlainStrip } from './plain-strip.js';
import { leastCostBySearch, Segmenter } from './segment-series.js';
import { settle } from './settle.js';
import { SETTLE_KERNEL } from './settle-kernel.js';
import { redrawCosts } from './strip-work.js';

/** A history of one pixel: steps, drifts and grain. */
function history(seed: number, count: number): [number, number, number][] {
  const random = seeded(seed);
  let colour: [number, number, number] = [120, 90, 60];
  return Array.from({ length: count }, () => {
    if (random() < 0.15) colour = [0, 1, 2].map(() => wholeFrom(random, 0, 255)) as [number, number, number];
    return colour.map((level) => Math.max(0, Math.min(255, Math.round(level + (random() - 0.5) * 8)))) as [
      number,
      number,
      number,
    ];
  });
}

describe('cutting one pixel’s history', () => {
  for (let seed = 1; seed <= 40; seed++) {
    it(`costs what the exhaustive search costs (seed ${seed})`, () => {
      const series = history(seed, 3 + (seed % 20));
      const segmenter = new Segmenter(series.map(([r, g, b]) => Uint8Array.of(r, g, b, 255)));
      const prices = new Float64Array(series.length).fill(40);
      // Every frame a candidate: then nothing may be lost against the search.
      const flags = new Uint8Array(series.length).fill(1);
      segmenter.load(0);
      segmenter.cut(flags, 0, prices);
      expect(segmenter.totalCost).toBeCloseTo(leastCostBySearch(series, [...prices]), 4);
    });
  }

  it('loses little by trying only the frames where a cut can pay (40 seeds)', () => {
    let best = 0;
    let found = 0;
    for (let seed = 1; seed <= 40; seed++) {
      const series = history(seed, 30);
      const segmenter = new Segmenter(series.map(([r, g, b]) => Uint8Array.of(r, g, b, 255)));
      const prices = new Float64Array(30).fill(40);
      const flags = new Uint8Array(30);
      segmenter.load(0);
      segmenter.findCandidates(40, redrawCosts(0).candidates, flags, 0);
      segmenter.cut(flags, 0, prices);
      best += leastCostBySearch(series, [...prices]);
      found += segmenter.totalCost;
    }
    expect(found / best).toBeLessThan(1.01);
  });
});

describe('settling a reel', () => {
  it('is compiled from the kernel’s source as it stands', () => {
    expect(Buffer.from(SETTLE_KERNEL, 'base64').equals(compileKernel('settle'))).toBe(true);
    expect(readFileSync(new URL('../../kernel/settle.ts', import.meta.url), 'utf8')).toContain('settleStrip');
  });

  for (const [width, height, count] of [
    [1, 1, 5],
    [7, 3, 9],
    [33, 40, 12],
    [64, 32, 40],
  ]) {
    it(`gives the same by the kernel and in plain TypeScript, ${width} × ${height}, ${count} frames`, () => {
      const frames = movingBall(width, height, count, { seed: width, grain: 5 });
      const [byKernel, plain] = [createKernelStrip, createPlainStrip].map((create) => {
        const copies = copyOf(frames);
        const durations = copies.map(() => new Uint16Array(width * height));
        const rows = Math.min(height, 32);
        const run = create({
          ...{
            kind: 'settle',
            frames: copies,
            durations,
            masking: measureMasking(copies).masking,
            width,
            height,
            mostRows: rows,
            price: 9,
            costs: redrawCosts(width % 2),
          },
        });
        if (!run) throw new Error('This Node has no WebAssembly SIMD.');
        run(0, rows);
        return { frames: copies, durations };
      });
      let apart = 0;
      const pixels = width * Math.min(height, 32);
      for (let f = 0; f < count; f++) {
        for (let p = 0; p < pixels; p++) {
          if (byKernel.durations[f][p] !== plain.durations[f][p]) apart++;
          else if (plain.durations[f][p] > 0) {
            for (let c = 0; c < 3; c++) {
              const step = byKernel.frames[f].rgba[p * 4 + c] - plain.frames[f].rgba[p * 4 + c];
              expect(Math.abs(step)).toBeLessThanOrEqual(1);
            }
          }
        }
      }
      // Four pixels share their candidates in the kernel, so a few cut where the plain way did not look.
      expect(apart / (pixels * count)).toBeLessThan(0.02);
    });
  }

  it('fills every pixel’s history without gap or overlap (seed 3)', () => {
    const { durations } = settle(movingBall(50, 45, 17, { seed: 3, grain: 9 }), 4);
    for (let p = 0; p < 50 * 45; p++) {
      let f = 0;
      while (f < 17) {
        expect(durations[f][p]).toBeGreaterThan(0);
        const until = f + durations[f][p];
        for (let g = f + 1; g < until; g++) expect(durations[g][p]).toBe(0);
        f = until;
      }
      expect(f).toBe(17);
    }
  });

  it('takes away grain and keeps what moves', () => {
    const { durations } = settle(movingBall(80, 60, 12, { seed: 5, grain: 2 }), 4);
    const corner = 2 * 80 + 2;
    expect(durations[0][corner]).toBe(12);
    const path = 30 * 80 + 40;
    expect(durations[0][path]).toBeLessThan(12);
  });

  it('writes the rounded mean of what it held together', () => {
    const frames = [10, 12, 13].map((level) => flat(level));
    const settled = settle(frames, 6);
    expect([...settled.frames[0].rgba.subarray(0, 3)]).toEqual([12, 12, 12]);
    expect(settled.durations.map((lengths) => lengths[0])).toEqual([3, 0, 0]);
  });

  it('changes nothing at 0', () => {
    const random = seeded(8);
    const frames = [0, 1, 2, 3].map(() => noiseFrame(20, 20, random));
    const before = copyOf(frames);
    const { durations } = settle(frames, 0);
    frames.forEach((frame, f) => {
      expect(Buffer.compare(frame.rgba, before[f].rgba)).toBe(0);
      expect(durations[f].every((length) => length === 1)).toBe(true);
    });
  });

  it('refuses an empty reel and frames of two sizes', () => {
    expect(() => settle([], 3)).toThrow('no frames');
    expect(() => settle([createFrame(4, 4), createFrame(5, 4)], 3)).toThrow('Frame 1 is 5 × 4');
  });
});

function flat(level: number): PixelFrame {
  const frame = createFrame(9, 9);
  for (let at = 0; at < frame.rgba.length; at += 4) frame.rgba.set([level, level, level, 255], at);
  return frame;
}
