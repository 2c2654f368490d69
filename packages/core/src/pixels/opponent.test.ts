import { describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { colourDistance, fromOpponent, type Rgb, toOpponent } from './index.js';

function anyColour(random: () => number): Rgb {
  return [0, 1, 2].map(() => wholeFrom(random, 0, 255)) as unknown as Rgb;
}

describe('luma and colour differences', () => {
  it('lead back to the colour they came from (5000 colours, seed 3)', () => {
    const random = seeded(3);
    for (let i = 0; i < 5000; i++) {
      const colour = anyColour(random);
      expect(fromOpponent(toOpponent(colour))).toEqual(colour);
    }
  });

  it('of greys are their level and nothing', () => {
    for (const level of [0, 1, 128, 255]) {
      const [luma, blue, red] = toOpponent([level, level, level]);
      expect(luma).toBeCloseTo(level, 9);
      expect([blue, red].every((difference) => Math.abs(difference) < 1e-9)).toBe(true);
    }
  });

  it('that no colour has come back within what a channel holds', () => {
    for (const far of [
      [0, 90, -90],
      [255, -90, 90],
      [128, 90, 90],
    ] as const) {
      const colour = fromOpponent(far);
      expect(colour.every((level) => level >= 0 && level <= 255 && Number.isInteger(level))).toBe(true);
    }
  });

  it('are a space in which distance is what colourDistance says, the same both ways (seed 8)', () => {
    const random = seeded(8);
    for (let i = 0; i < 1000; i++) {
      const [a, b] = [anyColour(random), anyColour(random)];
      const [ya, ua, va] = toOpponent(a);
      const [yb, ub, vb] = toOpponent(b);
      const squared = (ya - yb) ** 2 + (ua - ub) ** 2 + (va - vb) ** 2;
      expect(colourDistance(a, b)).toBeCloseTo(squared, 6);
      expect(colourDistance(b, a)).toBeCloseTo(colourDistance(a, b), 9);
    }
    expect(colourDistance([10, 10, 10], [11, 11, 11])).toBeCloseTo(1, 9);
    // A step of blue is seen least, one of green most.
    const steps = [0, 1, 2].map((c) =>
      colourDistance(
        [90, 90, 90],
        [90, 90, 90].map((level, k) => level + (k === c ? 9 : 0)) as unknown as Rgb,
      ),
    );
    expect(steps[2]).toBeLessThan(steps[0]);
    expect(steps[0]).toBeLessThan(steps[1]);
  });
});
