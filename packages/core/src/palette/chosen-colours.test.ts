import { describe, expect, it } from 'vitest';
import type { Rgb } from '../pixels/index.js';
import { seeded } from '../testing/seeded.js';
import { colourOf, hexOf, withChosen } from './index.js';

function noisePalette(seed: number, count: number): Rgb[] {
  const random = seeded(seed);
  return Array.from(
    { length: count },
    () => [0, 1, 2].map(() => Math.floor(random() * 256)) as unknown as Rgb,
  );
}

describe('colours chosen by hand', () => {
  it('are read and written', () => {
    expect(colourOf('#1f8a70')).toEqual([31, 138, 112]);
    expect(hexOf([31, 138, 112])).toBe('#1f8a70');
  });

  it.each([2, 9, 23])('are kept exactly, others go, and there are never too many (seed %i)', (seed) => {
    for (const count of [1, 2, 16, 255]) {
      const palette = noisePalette(seed, count);
      const kept = ['#1f8a70', '#e0662f', '#1f8a70'];
      const dropped = [hexOf(palette[0])];
      const chosen = withChosen(palette, { kept, dropped }, count).map(hexOf);
      expect(chosen.length).toBeLessThanOrEqual(count);
      expect(new Set(chosen).size).toBe(chosen.length);
      expect(chosen).toContain('#1f8a70');
      if (count >= 2) expect(chosen).toContain('#e0662f');
      expect(chosen).not.toContain(dropped[0]);
      // What is not near a choice stays.
      if (count === 255) expect(chosen.length).toBeGreaterThan(245);
    }
  });

  it('leave one colour where all was dropped, and everything where nothing was chosen', () => {
    const palette = noisePalette(4, 3);
    const none = { kept: [], dropped: palette.map(hexOf) };
    expect(withChosen(palette, none, 3)).toHaveLength(1);
    expect(withChosen(palette, { kept: [], dropped: [] }, 3)).toEqual(palette);
  });
});
