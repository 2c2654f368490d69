import { describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { visitStarts } from './index.js';

describe('the pixels where a segment begins', () => {
  it('are visited each once and in their order, wherever the array lies (60 seeds)', () => {
    for (let seed = 1; seed <= 60; seed++) {
      const random = seeded(seed);
      const all = new Uint16Array(wholeFrom(random, 0, 90));
      const share = random();
      for (let p = 0; p < all.length; p++) if (random() < share) all[p] = wholeFrom(random, 1, 65535);
      // From an odd place too.
      const part = all.subarray(Math.min(all.length, seed % 4));
      const visited: number[] = [];
      visitStarts(part, (pixel) => visited.push(pixel));
      expect(visited, `seed ${seed}`).toEqual([...part.keys()].filter((pixel) => part[pixel] > 0));
    }
  });
});
