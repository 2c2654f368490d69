import { describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { type FrameTimes, makeReel, momentAt, momentSeconds, partsOf, reelCentiseconds } from './index.js';

const take = (frames: number, rate: number): FrameTimes => ({
  starts: Array.from({ length: frames }, (_, frame) => frame / rate),
  duration: frames / rate,
});

/** Frames that are shown for anything from half to one and a half of the usual time. */
function uneven(seed: number, frames: number): FrameTimes {
  const random = seeded(seed);
  const starts: number[] = [];
  let at = 0;
  for (let i = 0; i < frames; i++) {
    starts.push(at);
    at += 0.02 + 0.04 * random();
  }
  return { starts, duration: at };
}

describe('a moment of a take', () => {
  it.each([1, 2, 3, 4])('lies at the time it was asked for (seed %i)', (seed) => {
    const times = uneven(seed, 60);
    const random = seeded(seed + 50);
    for (let n = 0; n < 200; n++) {
      const seconds = random() * times.starts[59];
      const moment = momentAt(times, seconds, true);
      // A fiftieth of the way to the next frame, of .06 s at most, is not made.
      expect(Math.abs(momentSeconds(times, moment) - seconds)).toBeLessThan(0.06 * 0.021);
      expect(momentAt(times, seconds, false).toward).toBeUndefined();
    }
  });

  it('after the last frame is that frame', () => {
    const times = take(10, 25);
    expect(momentAt(times, 0.39, true)).toEqual({ source: 9 });
    expect(momentAt(times, 7, true)).toEqual({ source: 9 });
  });

  it('has parts that make one', () => {
    const toward = { source: 4, moment: 0.25 };
    const parts = partsOf({
      source: 3,
      toward,
      blend: { source: 8, toward: { source: 9, moment: 0.5 }, share: 0.2 },
    });
    expect(parts.map(({ source }) => source)).toEqual([3, 4, 8, 9]);
    for (const [i, share] of [0.6, 0.2, 0.1, 0.1].entries()) expect(parts[i].share).toBeCloseTo(share, 12);
    expect(partsOf({ source: 3 })).toEqual([{ source: 3, share: 1 }]);
  });
});

describe('a smooth reel', () => {
  const smooth = { after: null };

  it('of half the speed has a picture between every two', () => {
    const reel = makeReel(take(40, 25), { start: 10, end: 14 }, 25, { speed: 0.5, smooth: { after: 10 } });
    expect(reel.map(({ source, toward }) => [source, toward])).toEqual(
      [10, 11, 12, 13].flatMap((source) => [
        [source, undefined],
        [source, { source: source === 13 ? 10 : source + 1, moment: 0.5 }],
      ]),
    );
    expect(new Set(reel.map(({ delayCs }) => delayCs))).toEqual(new Set([4]));
  });

  it('stays at its last frame where nothing follows', () => {
    const reel = makeReel(take(40, 25), { start: 10, end: 14 }, 25, { speed: 0.5, smooth });
    expect(reel.at(-1)).toEqual({ source: 13, delayCs: 8 });
    expect(reel).toHaveLength(7);
  });

  it('makes 30 frames a second of 25, evenly', () => {
    const reel = makeReel(take(50, 25), { start: 0, end: 50 }, 30, { smooth: { after: 0 } });
    expect(reel).toHaveLength(60);
    expect(reel.filter(({ toward }) => toward)).toHaveLength(50);
    expect(reel[1].toward?.moment).toBeCloseTo(5 / 6, 3);
    expect(reelCentiseconds(reel)).toBe(200);
    for (const { delayCs } of reel) expect([3, 4]).toContain(delayCs);
  });

  it('takes frames themselves wherever the rate meets them', () => {
    const reel = makeReel(take(50, 25), { start: 0, end: 50 }, 12.5, { smooth });
    expect(reel.map(({ source, toward }) => [source, toward])).toEqual(
      Array.from({ length: 25 }, (_, i) => [2 * i, undefined]),
    );
  });

  it('goes from one taken frame to the next', () => {
    const reel = makeReel(take(50, 25), { start: 4, end: 12 }, 25, { every: 4, smooth: { after: 4 } });
    expect(reel.map(({ source, toward }) => [source, toward?.source, toward?.moment])).toEqual([
      [4, undefined, undefined],
      ...[0.25, 0.5, 0.75].map((moment) => [4, 8, moment]),
      [8, undefined, undefined],
      ...[0.25, 0.5, 0.75].map((moment) => [8, 4, moment]),
    ]);
  });

  it('at the footage’s own pace is every frame as it was shown', () => {
    const times = uneven(9, 30);
    const span = { start: 3, end: 21 };
    expect(makeReel(times, span, 'source', { smooth })).toEqual(makeReel(times, span, 'source'));
  });

  it.each([7, 21, 35, 48])('lasts as long as one that is not, and rises (seed %i)', (seed) => {
    const random = seeded(seed);
    const times = uneven(seed, 80);
    const start = wholeFrom(random, 0, 40);
    const span = { start, end: wholeFrom(random, start + 2, 79) };
    const pace = { speed: 0.2 + random() };
    const rate = 8 + 40 * random();
    const reel = makeReel(times, span, rate, { ...pace, smooth: { after: span.end } });
    expect(reelCentiseconds(reel)).toBe(reelCentiseconds(makeReel(times, span, rate, pace)));
    const seconds = reel.map((moment) => momentSeconds(times, moment));
    for (let i = 1; i < seconds.length; i++) expect(seconds[i]).toBeGreaterThan(seconds[i - 1]);
    for (const { delayCs } of reel) expect(delayCs).toBeGreaterThanOrEqual(2);
    expect(makeReel(times, span, rate, { ...pace, reverse: true, smooth: { after: span.end } })).toEqual(
      [...reel].reverse(),
    );
  });
});
