import { describe, expect, it } from 'vitest';
import { mapColours, type PlannedReel } from '../palette/index.js';
import type { Rgb } from '../pixels/index.js';
import { settle } from '../settle/index.js';
import { readWithFfmpeg } from '../testing/independent-readers.js';
import { copyOf, movingBall, noiseFrame } from '../testing/pictures.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { composeGif, encodeGif, readGif, startGif } from './index.js';

function anyPalette(random: () => number, count: number): Rgb[] {
  return Array.from(
    { length: count },
    () => [0, 1, 2].map(() => wholeFrom(random, 0, 255)) as unknown as Rgb,
  );
}

/** A reel whose frames use palettes at random, some sharing colours. */
function anyReel(seed: number): PlannedReel {
  const random = seeded(seed);
  const count = wholeFrom(random, 2, 7);
  const width = wholeFrom(random, 5, 40);
  const height = wholeFrom(random, 5, 30);
  const frames =
    seed % 3 === 0
      ? Array.from({ length: count }, () => noiseFrame(width, height, random))
      : movingBall(width, height, count, { seed, grain: wholeFrom(random, 0, 12) });
  const shared = anyPalette(random, 4);
  const palettes = Array.from({ length: wholeFrom(random, 1, 3) }, () => [
    ...anyPalette(random, wholeFrom(random, 1, 200)),
    ...shared,
  ]);
  const paletteOf = frames.map(() => wholeFrom(random, 0, palettes.length - 1));
  const settled = settle(copyOf(frames), [0, 2, 8][seed % 3]);
  return mapColours(settled, { palettes, paletteOf }, 'none', 0);
}

describe('a reel of several palettes', () => {
  for (let seed = 1; seed <= 20; seed++) {
    it(`comes back as planned, at once and in parts (seed ${seed})`, () => {
      const reel = anyReel(seed);
      const delaysCs = reel.plans.map((_, f) => 3 + f);
      const { bytes } = encodeGif(reel, { delaysCs, plays: 0, squeeze: 0 });
      const shown = new Uint8Array(reel.width * reel.height * 4);
      const wanted = reel.plans.map((plan, f) => {
        plan.forEach((index, p) => {
          if (reel.durations[f][p] > 0) shown.set([...reel.palettes[reel.paletteOf[f]][index], 255], p * 4);
        });
        return shown.slice();
      });
      const kept = wanted.filter((picture, f) => f === 0 || Buffer.compare(picture, wanted[f - 1]) !== 0);
      const read = readWithFfmpeg(bytes, reel.width, reel.height);
      expect(read.pictures).toHaveLength(kept.length);
      for (const [f, picture] of kept.entries()) {
        expect(Buffer.compare(read.pictures[f], picture), `frame ${f}`).toBe(0);
      }

      const writing = startGif({ delaysCs, plays: 0, squeeze: 0 });
      const middle = reel.plans.length >> 1;
      for (const [from, to] of [
        [0, middle],
        [middle, reel.plans.length],
      ]) {
        const part = <T>(list: readonly T[]) => list.slice(from, to);
        writing.add({
          ...reel,
          frames: part(reel.frames),
          durations: part(reel.durations),
          plans: part(reel.plans),
          paletteOf: part(reel.paletteOf),
        });
      }
      const inParts = [...composeGif(readGif(writing.finish().bytes))];
      expect(inParts).toHaveLength(kept.length);
      for (const [f, picture] of kept.entries()) {
        expect(Buffer.compare(inParts[f].rgba, picture), `in parts, frame ${f}`).toBe(0);
      }
    });
  }
});
