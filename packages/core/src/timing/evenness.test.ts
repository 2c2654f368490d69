import { describe, expect, it } from 'vitest';
import { EVEN_RATES, evennessOf, makeReel } from './index.js';

describe('how even a frame rate is', () => {
  it.each(EVEN_RATES)('%f frames a second are even', (rate) => {
    const { shorterCs, longerCs, nearest } = evennessOf(rate);
    expect([shorterCs, longerCs, nearest]).toEqual([100 / rate, 100 / rate, []]);
  });

  it.each([
    [12, 8, 9, [10, 12.5]],
    [15, 6, 7, [12.5, 20]],
    [24, 4, 5, [20, 25]],
    [30, 3, 4, [25, 50]],
    [1, 100, 100, []],
    [1.5, 66, 67, [2]],
  ])(
    '%f frames a second are shown for %i or %i hundredths; nearest are %j',
    (rate, shorter, longer, nearest) => {
      expect(evennessOf(rate)).toEqual({ shorterCs: shorter, longerCs: longer, nearest });
    },
  );

  it('says what a reel of that rate is made of', () => {
    const times = { starts: Array.from({ length: 300 }, (_, i) => i / 60), duration: 5 };
    for (const rate of [7, 11, 12, 13.7, 18, 24, 29.97]) {
      const { shorterCs, longerCs } = evennessOf(rate);
      const delays = new Set(makeReel(times, { start: 0, end: 300 }, rate).map((pick) => pick.delayCs));
      for (const delay of delays) expect([shorterCs, longerCs]).toContain(delay);
    }
  });
});
