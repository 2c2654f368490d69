import { describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../testing/seeded.js';
import {
  fastestRate,
  fitSpan,
  frameAt,
  IMAGE_MILLISECONDS,
  MOVIE_MILLISECONDS,
  makeReel,
  nearestBoundary,
  nearestFrame,
  type Reel,
  reelCentiseconds,
  shareCentiseconds,
  spanSeconds,
  takenFrame,
} from './index.js';

const even = (count: number, rate: number) => ({
  starts: Array.from({ length: count }, (_, i) => i / rate),
  duration: count / rate,
});

function uneven(seed: number, count: number) {
  const random = seeded(seed);
  const starts = [0];
  for (let i = 1; i < count; i++) starts.push(starts[i - 1] + 0.005 + random() * 0.1);
  return { starts, duration: starts[count - 1] + 0.04 };
}

describe('whole centiseconds', () => {
  it('add up to the whole and differ by one at most (300 seeds)', () => {
    for (let seed = 1; seed <= 300; seed++) {
      const random = seeded(seed);
      const count = wholeFrom(random, 1, 200);
      const total = count + wholeFrom(random, 0, 5000);
      const delays = shareCentiseconds(total, count);
      expect(delays.reduce((sum, delay) => sum + delay, 0)).toBe(total);
      expect(Math.max(...delays) - Math.min(...delays)).toBeLessThanOrEqual(1);
    }
  });

  it('refuse what cannot be shared', () => {
    expect(() => shareCentiseconds(3, 4)).toThrow('Lower the frame rate');
    expect(() => shareCentiseconds(10, 0)).toThrow('needs a frame');
  });
});

describe('the reel', () => {
  it('lasts as long as the span to the centisecond at every rate', () => {
    const times = even(240, 30);
    for (const rate of [1, 7, 10, 12, 12.5, 15, 20, 24, 25, 29.97, 30, 33, 50]) {
      const reel = makeReel(times, { start: 42, end: 114 }, rate);
      expect(reelCentiseconds(reel), `${rate} fps`).toBe(240);
      expect(reel.every(({ source }) => source >= 42 && source < 114)).toBe(true);
    }
  });

  it('has as many frames as length times rate, in order, none twice in a row (100 seeds)', () => {
    for (let seed = 1; seed <= 100; seed++) {
      const times = uneven(seed, 150);
      const random = seeded(seed + 1000);
      const start = wholeFrom(random, 0, 140);
      const span = { start, end: wholeFrom(random, start + 1, 150) };
      const rate = 1 + random() * 29;
      const reel = makeReel(times, span, rate);
      const sources = reel.map((pick) => pick.source);
      expect(sources).toEqual([...new Set(sources)].sort((a, b) => a - b));
      expect(reel.length).toBeLessThanOrEqual(Math.max(1, Math.round(spanSeconds(times, span) * rate)));
      expect(reelCentiseconds(reel)).toBe(Math.max(2, Math.round(spanSeconds(times, span) * 100)));
    }
  });

  it('at the footage’s own rate is every frame', () => {
    const reel = makeReel(even(50, 25), { start: 10, end: 35 }, 25);
    expect(reel.map((pick) => pick.source)).toEqual(Array.from({ length: 25 }, (_, i) => 10 + i));
    expect(reel.every((pick) => pick.delayCs === 4)).toBe(true);
  });

  it('of one frame is one frame', () => {
    expect(makeReel(even(10, 25), { start: 3, end: 4 }, 12)).toEqual([{ source: 3, delayCs: 4 }]);
  });

  it('never asks a viewer for less than 2 centiseconds', () => {
    const reel = makeReel(even(200, 100), { start: 0, end: 200 }, 50);
    expect(Math.min(...reel.map((pick) => pick.delayCs))).toBe(2);
  });

  it('says what is wrong with a span or a rate', () => {
    const times = even(10, 10);
    expect(() => makeReel(times, { start: 4, end: 11 }, 10)).toThrow('10 frames of the footage');
    expect(() => makeReel(times, { start: 4, end: 4 }, 10)).toThrow('Set start and end');
    expect(() => makeReel(times, { start: 0, end: 4 }, 0)).toThrow('above 0');
    expect(() => makeReel(times, { start: 0, end: 4 }, Number.NaN)).toThrow('above 0');
  });

  it('keeps to what the file’s clock can show', () => {
    const fast = even(120, 60);
    const span = { start: 0, end: 120 };
    const seconds = (reel: Reel) => reelCentiseconds(reel) / 100;
    // Sixty a second are too many for hundredths, and what is more than a clock shows is lowered.
    const gif = makeReel(fast, span, 60);
    expect(gif.every(({ delayCs }) => Number.isInteger(delayCs) && delayCs >= 2)).toBe(true);
    const image = makeReel(fast, span, 'source', { clock: IMAGE_MILLISECONDS });
    expect(image).toHaveLength(120);
    for (const { delayCs } of image) expect([1.6, 1.7]).toContain(delayCs);
    const lowered = makeReel(fast, span, 120, { clock: IMAGE_MILLISECONDS });
    expect(lowered.length / 2).toBeLessThanOrEqual(fastestRate(IMAGE_MILLISECONDS));
    for (const reel of [gif, image, lowered]) expect(seconds(reel)).toBeCloseTo(2, 9);
  });

  it('shows frames at their own times in thousandths too (seeded)', () => {
    for (const seed of [3, 14, 159]) {
      const times = uneven(seed, 90);
      const span = { start: 5, end: 80 };
      const reel = makeReel(times, span, 24, { clock: MOVIE_MILLISECONDS });
      let atCs = 0;
      for (const { source, delayCs } of reel) {
        const due = (times.starts[source] - times.starts[5]) * 100;
        expect(Math.abs(atCs - due)).toBeLessThanOrEqual(0.25);
        expect(delayCs * 10).toBeCloseTo(Math.round(delayCs * 10), 9);
        atCs += delayCs;
      }
    }
  });
});

describe('finding frames in time', () => {
  it('agrees with a plain walk over uneven times (50 seeds)', () => {
    for (let seed = 1; seed <= 50; seed++) {
      const times = uneven(seed, 60);
      const random = seeded(seed);
      for (let i = 0; i < 40; i++) {
        const seconds = random() * times.duration;
        const shown = times.starts.findLastIndex((start) => start <= seconds);
        expect(frameAt(times, seconds)).toBe(shown);
        const distances = times.starts.map((start) => Math.abs(start - seconds));
        const nearest = nearestFrame(times, seconds);
        expect(distances[nearest]).toBeCloseTo(Math.min(...distances), 6);
        const boundaries = [...times.starts, times.duration].map((at) => Math.abs(at - seconds));
        expect(boundaries[nearestBoundary(times, seconds)]).toBeCloseTo(Math.min(...boundaries), 6);
      }
    }
  });
});

describe('a span that is moved', () => {
  it('stays inside, keeps a frame, and leaves the other end', () => {
    expect(fitSpan({ start: -5, end: 20 }, 100, 'start')).toEqual({ start: 0, end: 20 });
    expect(fitSpan({ start: 30, end: 20 }, 100, 'start')).toEqual({ start: 19, end: 20 });
    expect(fitSpan({ start: 30, end: 20 }, 100, 'end')).toEqual({ start: 30, end: 31 });
    expect(fitSpan({ start: 30, end: 900 }, 100, 'end')).toEqual({ start: 30, end: 100 });
    expect(fitSpan({ start: 2.4, end: 7.6 }, 100)).toEqual({ start: 2, end: 8 });
  });
});

describe('a reel at the source’s own pace', () => {
  const uneven = { starts: [0, 0.07, 0.2, 0.24, 2.24], duration: 2.5 };

  it('shows every frame for as long as the source does', () => {
    expect(makeReel(uneven, { start: 0, end: 5 }, 'source')).toEqual([
      { source: 0, delayCs: 7 },
      { source: 1, delayCs: 13 },
      { source: 2, delayCs: 4 },
      { source: 3, delayCs: 200 },
      { source: 4, delayCs: 26 },
    ]);
  });

  it('taken by every n-th, each is shown until the next: the length stays', () => {
    expect(makeReel(uneven, { start: 1, end: 5 }, 'source', { every: 2 })).toEqual([
      { source: 1, delayCs: 17 },
      { source: 3, delayCs: 226 },
    ]);
    expect([1, 2, 3, 4].map((frame) => takenFrame(frame, 1, 2))).toEqual([1, 1, 3, 3]);
  });

  it('keeps the length to the centisecond and no delay below what viewers honour (seed 17)', () => {
    const random = seeded(17);
    for (let round = 0; round < 200; round++) {
      const starts = [0];
      for (let i = 1; i < 60; i++) starts.push(starts[i - 1] + 0.001 + random() * 0.06);
      const times = { starts, duration: starts[59] + 0.05 };
      const start = wholeFrom(random, 0, 50);
      const span = { start, end: wholeFrom(random, start + 1, 60) };
      const every = wholeFrom(random, 1, 5);
      const reel = makeReel(times, span, 'source', { every });
      expect(reelCentiseconds(reel)).toBe(Math.max(2, Math.round(spanSeconds(times, span) * 100)));
      for (const [i, { source, delayCs }] of reel.entries()) {
        expect(delayCs).toBeGreaterThanOrEqual(2);
        expect((source - start) % every).toBe(0);
        if (i > 0) expect(source).toBeGreaterThan(reel[i - 1].source);
      }
    }
  });

  it('of 60 frames a second leaves out what cannot be shown, none for long', () => {
    const times = even(120, 60);
    const reel = makeReel(times, { start: 0, end: 120 }, 'source');
    expect(reelCentiseconds(reel)).toBe(200);
    expect(Math.max(...reel.map((pick) => pick.delayCs))).toBeLessThanOrEqual(4);
  });
});
