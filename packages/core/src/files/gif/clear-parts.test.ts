import { describe, expect, it } from 'vitest';
import { createFrame, type PixelFrame } from '../../pixels/index.js';
import { readWithFfmpeg, readWithSharp } from '../../testing/independent-readers.js';
import { copyOf } from '../../testing/pictures.js';
import { seeded, wholeFrom } from '../../testing/seeded.js';
import { startRendering } from './render.js';
import { DEFAULT_GIF } from './settings.js';

const WIDTH = 23;
const HEIGHT = 17;

/** Discs of a few colours that come, go, and change places; what no disc covers is clear. */
function discs(seed: number, count: number, alwaysFull: number): PixelFrame[] {
  const random = seeded(seed);
  const colours = Array.from({ length: 9 }, () =>
    [random() * 256, random() * 256, random() * 256].map(Math.floor),
  );
  return Array.from({ length: count }, (_, f) => {
    const rgba = new Uint8Array(WIDTH * HEIGHT * 4);
    const all = Array.from({ length: wholeFrom(random, 0, 3) }, () => ({
      ...{ x: random() * WIDTH, y: random() * HEIGHT, r: 2 + random() * 7 },
      colour: colours[wholeFrom(random, 0, 8)],
    }));
    for (let p = 0; p < WIDTH * HEIGHT; p++) {
      const [x, y] = [p % WIDTH, Math.floor(p / WIDTH)];
      const disc = all.findLast((one) => Math.hypot(x - one.x, y - one.y) < one.r);
      // Some parts of the reel have nothing clear at all.
      const colour = disc?.colour ?? (f < alwaysFull ? colours[0] : null);
      if (colour) rgba.set([...colour, 255], p * 4);
    }
    return createFrame(WIDTH, HEIGHT, rgba);
  });
}

describe('a transparent reel in parts', () => {
  it('shows in other readers what it should, to the pixel, however it is cut (24 seeds)', async () => {
    for (let seed = 1; seed <= 24; seed++) {
      const random = seeded(seed + 400);
      const count = wholeFrom(random, 4, 14);
      const frames = discs(seed, count, seed % 3 === 0 ? wholeFrom(random, 1, count) : 0);
      const reel = frames.map((_, source) => ({ source, delayCs: wholeFrom(random, 2, 9) }));
      const settings = { ...DEFAULT_GIF, dither: 'none' as const, settle: 0, squeeze: 0 };
      const rendering = startRendering({ reel, settings, plays: 0, isOpaque: false });
      for (let at = 0; at < count; ) {
        const length = wholeFrom(random, 1, 5);
        rendering.add(copyOf(frames.slice(at, at + length)));
        at += length;
      }
      const { bytes } = rendering.finish();
      const delaysCs = reel.map((pick) => pick.delayCs);
      const shown = await readWithSharp(bytes);
      // What changes nothing lengthens the one before: each picture by when it is shown.
      expect(shown.delaysCs.reduce((sum, delay) => sum + delay, 0)).toBe(delaysCs.reduce((a, b) => a + b, 0));
      const byFfmpeg = readWithFfmpeg(bytes, WIDTH, HEIGHT);
      for (const [who, { pictures, delaysCs: ends }] of [
        ['libvips', shown],
        ['ffmpeg', byFfmpeg],
      ] as const) {
        let at = 0;
        for (const [f, frame] of frames.entries()) {
          const rgba = pictures[placeAt(ends, at)];
          for (let p = 0; p < WIDTH * HEIGHT; p++) {
            const [ours, wanted] = [rgba.subarray(p * 4, p * 4 + 4), frame.rgba.subarray(p * 4, p * 4 + 4)];
            expect(ours[3], `${who}, seed ${seed}, frame ${f}, pixel ${p}`).toBe(wanted[3]);
            if (wanted[3] === 255)
              expect([...ours], `${who}, seed ${seed}, frame ${f}, pixel ${p}`).toEqual([...wanted]);
          }
          at += delaysCs[f];
        }
      }
    }
  });
});

function placeAt(delaysCs: readonly number[], at: number): number {
  let end = 0;
  for (const [place, delay] of delaysCs.entries()) {
    end += delay;
    if (at < end) return place;
  }
  return delaysCs.length - 1;
}
