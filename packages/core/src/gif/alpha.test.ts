import { describe, expect, it } from 'vitest';
import { buildPalette, mapColours, onePalette } from '../palette/index.js';
import { createFrame, type PixelFrame } from '../pixels/index.js';
import { settle } from '../settle/index.js';
import { readWithFfmpeg, readWithSharp } from '../testing/independent-readers.js';
import { copyOf } from '../testing/pictures.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { composeGif, encodeGif, readGif } from './index.js';

const WIDTH = 40;
const HEIGHT = 28;
const COLOURS = [
  [240, 80, 40],
  [20, 120, 90],
  [250, 240, 220],
] as const;

/** Blocks of few colours that come, go and change colour; alpha is 0 or 255. */
function badge(frames: number, seed: number): PixelFrame[] {
  const random = seeded(seed);
  const canvas = createFrame(WIDTH, HEIGHT);
  return Array.from({ length: frames }, (_, f) => {
    for (let block = 0; block < 3; block++) {
      const left = wholeFrom(random, 0, WIDTH - 6);
      const top = wholeFrom(random, 0, HEIGHT - 6);
      const colour = random() < 0.45 ? [9, 9, 9, 0] : [...COLOURS[wholeFrom(random, 0, 2)], 255];
      for (let y = top; y < top + 6; y++) {
        for (let x = left; x < left + 6; x++) canvas.rgba.set(colour, (y * WIDTH + x) * 4);
      }
    }
    // No frame is like the one before it, so none is merged into it.
    canvas.rgba.set([...COLOURS[f % 2], 255]);
    return createFrame(WIDTH, HEIGHT, canvas.rgba.slice());
  });
}

function write(frames: readonly PixelFrame[], levels = 0, squeeze = 0): Uint8Array {
  const settled = settle(copyOf(frames), levels);
  const planned = mapColours(settled, onePalette(settled, buildPalette(settled, 255)), 'none', 0);
  return encodeGif(planned, { delaysCs: frames.map(() => 8), plays: 0, squeeze }).bytes;
}

/** Colour where it can be seen, and whether it can; what is clear has no colour. */
function seen(rgba: Uint8Array): number[] {
  const out: number[] = [];
  for (let at = 0; at < rgba.length; at += 4) {
    out.push(rgba[at + 3] < 128 ? -1 : (rgba[at] << 16) | (rgba[at + 1] << 8) | rgba[at + 2]);
  }
  return out;
}

describe('a transparent reel', () => {
  for (const seed of [1, 2, 3, 4, 5]) {
    it(`comes back pixel by pixel from ffmpeg, libvips and our reader (seed ${seed})`, async () => {
      const frames = badge(9, seed);
      const bytes = write(frames);
      const byFfmpeg = readWithFfmpeg(bytes, WIDTH, HEIGHT);
      const bySharp = await readWithSharp(bytes);
      const byUs = [...composeGif(readGif(bytes))];
      expect(bySharp.pictures).toHaveLength(frames.length);
      frames.forEach((frame, f) => {
        const wanted = seen(frame.rgba);
        expect(seen(bySharp.pictures[f]), `libvips, frame ${f}`).toEqual(wanted);
        expect(seen(byUs[f].rgba), `ours, frame ${f}`).toEqual(wanted);
        expect(seen(byFfmpeg.pictures[f]), `ffmpeg, frame ${f}`).toEqual(wanted);
      });
    });
  }

  it('keeps its outline exactly under settle and squeeze too (seed 9)', () => {
    const frames = badge(12, 9);
    const byUs = [...composeGif(readGif(write(frames, 4, 8)))];
    frames.forEach((frame, f) => {
      const outline = (rgba: Uint8Array) => seen(rgba).map((colour) => colour < 0);
      expect(outline(byUs[f].rgba), `frame ${f}`).toEqual(outline(frame.rgba));
    });
  });

  it('may be one frame, or nothing at all', () => {
    const [one] = badge(1, 3);
    const [read] = [...composeGif(readGif(write([one])))];
    expect(seen(read.rgba)).toEqual(seen(one.rgba));
    const nothing = [createFrame(5, 4), createFrame(5, 4)];
    for (const frame of composeGif(readGif(write(nothing)))) {
      expect(frame.rgba.every((byte, at) => at % 4 !== 3 || byte === 0)).toBe(true);
    }
  });

  it('counts a soft edge as seen from half on', () => {
    const frame = createFrame(4, 1);
    for (const [x, alpha] of [0, 127, 128, 255].entries()) frame.rgba.set([200, 10, 10, alpha], x * 4);
    const [read] = [...composeGif(readGif(write([frame])))];
    expect([3, 7, 11, 15].map((at) => read.rgba[at])).toEqual([0, 0, 255, 255]);
  });
});
