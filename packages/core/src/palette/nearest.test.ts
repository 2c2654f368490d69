import { describe, expect, it } from 'vitest';
import { colourDistance, fromOpponent, type Rgb } from '../pixels/index.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { hasOnePalette, opponentValues } from './index.js';
import { createOpponentSearch } from './nearest.js';

function anyColours(random: () => number, count: number): Rgb[] {
  return Array.from(
    { length: count },
    () => [0, 1, 2].map(() => wholeFrom(random, 0, 255)) as unknown as Rgb,
  );
}

describe('the search in luma and colour differences', () => {
  for (const count of [1, 2, 3, 40, 255]) {
    it(`finds the nearest of ${count} from any hint, between whole levels too (seed ${count})`, () => {
      const random = seeded(count);
      const palette = anyColours(random, count);
      const values = opponentValues(palette);
      const search = createOpponentSearch(values);
      for (let i = 0; i < 500; i++) {
        const at = [random() * 255, (random() - 0.5) * 120, (random() - 0.5) * 120] as const;
        const distances = palette.map((_, entry) =>
          at.reduce((sum, value, c) => sum + (value - values[entry * 3 + c]) ** 2, 0),
        );
        const best = Math.min(...distances);
        for (const hint of [-1, wholeFrom(random, 0, count - 1)]) {
          expect(distances[search(...at, hint)]).toBeCloseTo(best, 9);
        }
      }
    });
  }

  it('takes the first of two alike, whatever the hint', () => {
    const search = createOpponentSearch(
      opponentValues([
        [9, 9, 9],
        [70, 70, 70],
        [70, 70, 70],
      ]),
    );
    for (const hint of [-1, 0, 1, 2]) expect(search(70, 0, 0, hint)).toBe(1);
  });

  it('counts distances as colours do', () => {
    const [a, b] = [fromOpponent([100, 12, -20]), fromOpponent([104, 12, -20])];
    // Colours come in whole levels.
    expect(Math.sqrt(colourDistance(a, b))).toBeGreaterThan(3.4);
    expect(Math.sqrt(colourDistance(a, b))).toBeLessThan(4.6);
  });
});

describe('one palette', () => {
  it('is what is asked for, or what few colours mean', () => {
    expect(hasOnePalette('loop', 256)).toBe(true);
    expect(hasOnePalette('auto', 254)).toBe(true);
    expect(hasOnePalette('auto', 255)).toBe(false);
    expect(hasOnePalette('frame', 8)).toBe(false);
  });
});
