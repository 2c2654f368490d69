import { describe, expect, it } from 'vitest';
import { playGif, readGif } from '../../gif/index.js';
import { DITHER_NAMES, PALETTE_PLANS } from '../../palette/index.js';
import { createFrame, hardenEdges, layOnMatte, type Matte, type PixelFrame } from '../../pixels/index.js';
import { readWithFfmpeg, readWithSharp } from '../../testing/independent-readers.js';
import { copyOf, movingBall, noiseFrame } from '../../testing/pictures.js';
import { seeded, wholeFrom } from '../../testing/seeded.js';
import { renderGif } from './render.js';
import { DEFAULT_GIF, type GifSettings } from './settings.js';

const WIDTH = 37;
const HEIGHT = 29;

function filled(count: number, colourOf: (frame: number, pixel: number) => readonly number[]): PixelFrame[] {
  return Array.from({ length: count }, (_, f) => {
    const frame = createFrame(WIDTH, HEIGHT);
    for (let p = 0; p < WIDTH * HEIGHT; p++) frame.rgba.set(colourOf(f, p), p * 4);
    return frame;
  });
}

/** Reels that people rarely make and that must come out right all the same. */
const REELS: Record<string, () => PixelFrame[]> = {
  'one frame': () => movingBall(WIDTH, HEIGHT, 1),
  'one colour': () => filled(4, () => [200, 30, 40, 255]),
  'two colours': () => filled(4, (f, p) => ((p + f) % 3 === 0 ? [0, 0, 0, 255] : [255, 255, 255, 255])),
  'frames all alike': () => copyOf(Array.from({ length: 5 }, () => movingBall(WIDTH, HEIGHT, 1)[0])),
  noise: () => {
    const random = seeded(11);
    return [0, 1, 2, 3].map(() => noiseFrame(WIDTH, HEIGHT, random));
  },
  'nothing to be seen': () => filled(3, () => [90, 90, 90, 0]),
  'half of everything clear': () => filled(4, (f, p) => [f * 40, p % 256, 90, (p + f) % 2 === 0 ? 0 : 255]),
  'alpha of all degrees': () => filled(4, (f, p) => [200, 80, f * 60, (p * 7 + f * 31) % 256]),
};

/** What is seen, and of which colour: −1 where nothing is. */
function seen(rgba: Uint8Array): number[] {
  return Array.from({ length: rgba.length / 4 }, (_, p) =>
    rgba[p * 4 + 3] < 128 ? -1 : (rgba[p * 4] << 16) | (rgba[p * 4 + 1] << 8) | rgba[p * 4 + 2],
  );
}

describe('a file of', () => {
  for (const [name, make] of Object.entries(REELS)) {
    it(`${name} is the same to ffmpeg, libvips and our reader, with few colours and many, in every way`, async () => {
      const random = seeded(name.length);
      for (const palette of PALETTE_PLANS) {
        const frames = make();
        const settings: GifSettings = {
          ...DEFAULT_GIF,
          palette,
          colors: [2, 3, 17, 256][wholeFrom(random, 0, 3)],
          dither: DITHER_NAMES[wholeFrom(random, 0, DITHER_NAMES.length - 1)],
          settle: [0, 2, 9][wholeFrom(random, 0, 2)],
          squeeze: [0, 3, 12][wholeFrom(random, 0, 2)],
        };
        const reel = frames.map((_, source) => ({ source, delayCs: 4 + source }));
        const delays = reel.map(({ delayCs }) => delayCs);
        const told = JSON.stringify(settings);
        const { bytes, colors, frameBytes } = renderGif(copyOf(frames), { reel, settings, plays: 0 });
        expect(frameBytes).toHaveLength(frames.length);
        expect(colors, told).toBeLessThanOrEqual(settings.colors);
        const file = readGif(bytes);
        const shown = [...playGif(file, delays)];
        const written = file.images.length;
        const byFfmpeg = readWithFfmpeg(bytes, WIDTH, HEIGHT);
        const bySharp = await readWithSharp(bytes);
        expect(byFfmpeg.pictures, told).toHaveLength(written);
        expect(
          byFfmpeg.delaysCs.reduce((sum, delay) => sum + delay, 0),
          told,
        ).toBe(delays.reduce((sum, delay) => sum + delay, 0));
        // The last picture builds on all before it.
        const last = seen(shown[shown.length - 1].rgba);
        expect(seen(byFfmpeg.pictures[written - 1]), told).toEqual(last);
        expect(seen(bySharp.pictures[bySharp.pictures.length - 1]), told).toEqual(last);
        // What can be seen, and what cannot, is exactly what the frames say.
        shown.forEach((picture, f) => {
          const outline = (rgba: Uint8Array) => seen(rgba).map((colour) => colour < 0);
          expect(outline(picture.rgba), `${told}, frame ${f}`).toEqual(outline(frames[f].rgba));
        });
      }
    });
  }
});

describe('edges on a matte', () => {
  /** A round badge with a soft rim. */
  const badge = () =>
    filled(1, (_, p) => {
      const away = Math.hypot((p % WIDTH) - 18, Math.floor(p / WIDTH) - 14);
      return [220, 40, 40, Math.max(0, Math.min(255, Math.round((11 - away) * 60)))];
    });

  it('leave no rim on the ground they were made for', () => {
    const frames = badge();
    const settings = { ...DEFAULT_GIF, dither: 'none' as const, settle: 0, squeeze: 0 };
    const reel = [{ source: 0, delayCs: 10 }];
    const off = (matte: Matte) => {
      const { bytes } = renderGif(copyOf(frames), { reel, settings, matte, plays: 0 });
      const [picture] = [...playGif(readGif(bytes), [10])];
      const [wanted, got] = [frames[0], picture].map(
        (one) => layOnMatte(one, one, { x: 0, y: 0 }, '#ffffff').rgba,
      );
      return wanted.reduce((sum, level, at) => sum + Math.abs(level - got[at]), 0);
    };
    expect(off('#ffffff')).toBeLessThan(off('transparent') * 0.8);
    expect(off('#ffffff')).toBeLessThan(off('#000000') * 0.6);
  });

  it('are mixed in linear light from half on, and clear pixels stay clear', () => {
    const frame = createFrame(
      4,
      1,
      Uint8Array.of(255, 0, 0, 255, 255, 255, 255, 128, 9, 9, 9, 127, 7, 7, 7, 0),
    );
    hardenEdges(frame, '#000000', 128);
    expect([...frame.rgba.subarray(0, 4)]).toEqual([255, 0, 0, 255]);
    // Half the light of white is level 188.
    expect(frame.rgba[4]).toBeGreaterThanOrEqual(187);
    expect(frame.rgba[4]).toBeLessThanOrEqual(189);
    expect(frame.rgba[7]).toBe(255);
    expect([...frame.rgba.subarray(8)]).toEqual([9, 9, 9, 127, 7, 7, 7, 0]);
  });
});
