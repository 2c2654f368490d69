import { describe, expect, it } from 'vitest';
import { seeded } from '../testing/seeded.js';
import {
  evennessOf,
  evenRateNear,
  evenRates,
  isVariable,
  makeReel,
  type Reel,
  worstDeviation,
} from './index.js';

const even = (rate: number, seconds = 6, stamp = (at: number) => at) => {
  const count = Math.round(rate * seconds);
  return { starts: Array.from({ length: count }, (_, i) => stamp(i / rate)), duration: count / rate };
};
const inMilliseconds = (at: number) => Math.round(at * 1000) / 1000;
const whole = ({ starts }: { starts: readonly number[] }) => ({ start: 0, end: starts.length });

const stepsOf = (reel: Reel) => reel.slice(1).map(({ source }, i) => source - reel[i].source);

const RATES = [10, 12, 23.976, 25, 29.97, 50, 60];

describe('even rates', () => {
  it.each([
    [30, [2, 2.143, 2.308, 2.5, 2.727, 3, 3.333, 3.75, 4.286, 5, 6, 7.5, 10, 15, 30]],
    [10, [2, 2.5, 3.333, 5, 10]],
    [60, expect.arrayContaining([12, 15, 20, 30])],
  ])('of %f frames a second are its whole parts', (rate, rates) => {
    expect(evenRates(even(rate))).toEqual(rates);
  });

  it('never pass what a viewer honours, nor what the source has', () => {
    for (const rate of RATES)
      expect(Math.max(...evenRates(even(rate)))).toBeLessThanOrEqual(Math.min(50, rate));
  });

  it('follow the speed', () => {
    expect(evenRates(even(10), 0.5)).toEqual([2.5, 5]);
    expect(evenRates(even(10), 3)).toContain(30);
  });

  it('are none where the source is uneven itself, and all where only its stamps are rounded', () => {
    const random = seeded(3);
    const starts = Array.from({ length: 60 }, (_, i) => i / 20 + random() * 0.03);
    expect(isVariable({ starts, duration: 3 })).toBe(true);
    expect(evenRates({ starts, duration: 3 })).toEqual([]);
    for (const rate of RATES) expect(isVariable(even(rate, 6, inMilliseconds)), `${rate} fps`).toBe(false);
  });

  it('include one near any that is wanted', () => {
    expect([10, 23.976, 25, 29.97, 30, 60].map((rate) => evenRateNear(even(rate), 12))).toEqual([
      10, 11.988, 12.5, 9.99, 10, 12,
    ]);
    expect(evenRateNear({ starts: [0, 0.1, 0.5], duration: 1 }, 12)).toBe(12);
  });
});

describe('a reel of an even source', () => {
  it('is as even as centiseconds allow at every rate that is offered, stamps rounded or not', () => {
    for (const rate of RATES) {
      for (const times of [even(rate), even(rate, 6, inMilliseconds)]) {
        for (const offered of evenRates(times)) {
          const told = `${rate} fps at ${offered}`;
          const part = Math.round(rate / offered);
          // Where the span is a whole number of such steps, all are alike …
          const span = { start: 0, end: Math.floor(times.starts.length / part) * part };
          const reel = makeReel(times, span, offered);
          expect(evennessOf(reel), told).toMatchObject({ isEven: true });
          expect(new Set(stepsOf(reel)), told).toEqual(new Set([part]));
          // … else one or the other is a source frame longer or shorter.
          for (const step of stepsOf(makeReel(times, whole(times), offered))) {
            expect(Math.abs(step - part), told).toBeLessThanOrEqual(1);
          }
        }
      }
    }
  });

  it('keeps its own pace where more is asked for than it has', () => {
    const times = even(10);
    for (const asked of [10, 11, 12, 15, 24, 50] as const) {
      const reel = makeReel(times, whole(times), asked);
      expect(reel.map(({ delayCs }) => delayCs)).toEqual(new Array(60).fill(10));
      expect(reel.map(({ source }) => source)).toEqual(times.starts.map((_, i) => i));
    }
  });
});

describe('a shown frame', () => {
  it('is never further from its own time than a centisecond, at any rate, even or variable (200 draws)', () => {
    const random = seeded(29);
    for (let draw = 0; draw < 200; draw++) {
      const starts = [0];
      const usual = 1 / RATES[draw % RATES.length];
      for (let i = 1; i < 150; i++) starts.push(starts[i - 1] + usual * (draw % 2 ? 1 : 0.3 + 2 * random()));
      const times = { starts, duration: starts[149] + usual };
      const asked = 1 + random() * 49;
      const speed = draw % 3 === 0 ? 0.25 + random() * 4 : 1;
      const reel = makeReel(times, whole(times), asked, { speed });
      expect(worstDeviation(times, reel, speed), `draw ${draw}`).toBeLessThanOrEqual(0.0101);
      const seconds = times.duration / speed;
      expect(reel.length).toBeLessThanOrEqual(Math.max(1, Math.round(seconds * asked)));
    }
  });
});
