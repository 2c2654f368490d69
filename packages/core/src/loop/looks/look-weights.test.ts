import { describe, expect, it } from 'vitest';
import { isUnnoticed, SEAM_VERDICTS, seamVerdict } from '../score/index.js';
import { lookWeights } from './index.js';

const LOOK = { width: 40, height: 20 };
const WHOLE = { x: 0, y: 0, width: 1, height: 1 };

describe('what counts of a look', () => {
  it('is all of it where nothing is cropped or held', () => {
    expect(lookWeights(LOOK, WHOLE, null)).toBeNull();
  });

  it('is the part that is seen', () => {
    const weights = lookWeights(LOOK, { x: 0.25, y: 0.5, width: 0.5, height: 0.5 }, null) as Float32Array;
    for (const [p, weight] of weights.entries()) {
      const [x, y] = [p % 40, Math.floor(p / 40)];
      expect(weight, `${x} ${y}`).toBe(x >= 10 && x < 30 && y >= 10 ? 1 : 0);
    }
  });

  it('is what moves there, by how much', () => {
    const moving = { width: 4, height: 1, values: Uint8Array.of(0, 51, 255, 255) };
    const weights = lookWeights(LOOK, { x: 0, y: 0, width: 0.75, height: 1 }, moving) as Float32Array;
    expect([5, 15, 25, 35].map((x) => Number(weights[x].toFixed(3)))).toEqual([0, 0.2, 1, 0]);
  });
});

describe('the word for a score', () => {
  it('goes by the whole number that is told', () => {
    expect([0, 49.4, 49.6, 74.4, 74.5, 89.4, 89.6, 100].map(seamVerdict)).toEqual([
      ...['plain', 'plain', 'noticed', 'noticed'],
      ...['hardly', 'hardly', 'unnoticed', 'unnoticed'],
    ]);
    expect(new Set(SEAM_VERDICTS).size).toBe(4);
    expect([89.4, 89.6].map(isUnnoticed)).toEqual([false, true]);
  });
});
