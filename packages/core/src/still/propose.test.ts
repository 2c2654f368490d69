import { describe, expect, it } from 'vitest';
import { partMask } from './index.js';

const MAP = { width: 80, height: 60 };
const TIMES = 4;
const SIZE = { width: MAP.width * TIMES, height: MAP.height * TIMES };

/** A map in which everything moves that a rule says, by places of the map. */
const mapOf = (moves: (x: number, y: number) => boolean) => ({
  ...MAP,
  labels: Uint8Array.from({ length: MAP.width * MAP.height }, (_, p) =>
    moves((p % MAP.width) + 0.5, Math.floor(p / MAP.width) + 0.5) ? 1 : 0,
  ),
});

describe('a proposed part', () => {
  it.each([8, 14, 22])(
    'of the shape of a disc %i places wide has a round outline, without the map’s steps',
    (radius) => {
      const map = mapOf((x, y) => Math.hypot(x - 40, y - 30) < radius);
      const { values } = partMask(map, 1, SIZE);
      let worst = 0;
      for (let turn = 0; turn < 360; turn++) {
        const angle = (turn * Math.PI) / 180;
        const at = (r: number) => {
          const [x, y] = [40 * TIMES + r * Math.cos(angle), 30 * TIMES + r * Math.sin(angle)];
          return values[Math.floor(y) * SIZE.width + Math.floor(x)];
        };
        let r = radius * TIMES - 12;
        while (at(r) > 127) r += 0.25;
        worst = Math.max(worst, Math.abs(r - radius * TIMES));
      }
      // A step of the map is four pixels.
      expect(worst).toBeLessThan(2.3);
    },
  );

  it('ends within a few pixels, and is whole inside and nothing outside', () => {
    const { values } = partMask(
      mapOf((x) => x < 40),
      1,
      SIZE,
    );
    const row = values.subarray(100 * SIZE.width, 101 * SIZE.width);
    expect(new Set(row.subarray(0, 157))).toEqual(new Set([255]));
    expect(new Set(row.subarray(163))).toEqual(new Set([0]));
    expect(row[159]).toBeGreaterThan(127);
    expect(row[160]).toBeLessThan(128);
  });
});
