import { describe, expect, it } from 'vitest';
import { type Rgb, toOpponent } from '../pixels/index.js';
import { CHROMA_SHARES } from '../settle/index.js';
import { noiseFrame } from '../testing/pictures.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { type MapWork, startMapping } from './map-colours.js';

function anyWork(seed: number): MapWork {
  const random = seeded(seed);
  const [width, height] = [wholeFrom(random, 1, 60), wholeFrom(random, 1, 50)];
  const frames = Array.from({ length: 3 }, () => noiseFrame(width, height, random));
  const palette = (count: number) =>
    Array.from({ length: count }, () => [0, 1, 2].map(() => wholeFrom(random, 0, 255)) as unknown as Rgb);
  return {
    ...{ kind: 'map', frames, dither: 'none', strength: 100 },
    palettes: [palette(wholeFrom(random, 1, 5)), palette(wholeFrom(random, 1, 256))],
    paletteOf: [0, 1, 1],
    durations: frames.map(() => Uint16Array.from({ length: width * height }, () => wholeFrom(random, 0, 2))),
    plans: frames.map(() => new Uint8Array(width * height).fill(7)),
    chroma: Uint8Array.from({ length: width * height }, () => wholeFrom(random, 0, CHROMA_SHARES.length - 1)),
  };
}

describe('colours of segments', () => {
  for (let seed = 1; seed <= 12; seed++) {
    it(`are the nearest as colour counts at their place, by the kernel and without it (seed ${seed})`, () => {
      for (const isPlain of [false, true]) {
        const work = anyWork(seed);
        const map = startMapping(work, isPlain);
        for (const f of [0, 1, 2]) map(f);
        for (const [f, plan] of work.plans.entries()) {
          const palette = work.palettes[work.paletteOf[f]].map(toOpponent);
          const { rgba } = work.frames[f];
          for (let p = 0; p < plan.length; p++) {
            if (work.durations[f][p] === 0) {
              expect(plan[p]).toBe(7);
              continue;
            }
            const own = toOpponent([rgba[p * 4], rgba[p * 4 + 1], rgba[p * 4 + 2]]);
            const share = CHROMA_SHARES[work.chroma[p]];
            const distances = palette.map(
              ([y, u, v]) => (y - own[0]) ** 2 + share * ((u - own[1]) ** 2 + (v - own[2]) ** 2),
            );
            const best = Math.min(...distances);
            // The kernel counts in single precision.
            expect(distances[plan[p]]).toBeLessThanOrEqual(best * (isPlain ? 1 + 1e-9 : 1.0001) + 1e-3);
          }
        }
      }
    });
  }
});
