import { describe, expect, it } from 'vitest';
import {
  buildPalette,
  DITHER_NAMES,
  type DitherName,
  mapColours,
  NO_CHOICE,
  type PlannedReel,
  planPalettes,
} from '../palette/index.js';
import { createFrame, type PixelFrame, type Rgb, SINGLE_THREAD } from '../pixels/index.js';
import { type SettledReel, settle } from '../settle/index.js';
import { copyOf, movingBall, noiseFrame } from '../testing/pictures.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { type DrawSettings, type DrawWork, newDrawWork, startDrawing } from './draw-chunk.js';

/** Something of everything: grain, noise, flat ground, parts that are clear. */
function anyFrames(random: () => number, seed: number): PixelFrame[] {
  const [width, height] = [wholeFrom(random, 1, 48), wholeFrom(random, 1, 40)];
  const count = wholeFrom(random, 1, 24);
  const frames =
    seed % 4 === 0
      ? Array.from({ length: Math.min(count, 6) }, () => noiseFrame(width, height, random))
      : movingBall(width, height, count, { seed, grain: wholeFrom(random, 0, 9) });
  if (seed % 3 !== 0) return frames;
  return frames.map(({ rgba }, f) => {
    const holed = rgba.slice();
    for (let p = 0; p < width * height; p++) if ((p % width) + f < 9) holed[p * 4 + 3] = 0;
    return createFrame(width, height, holed);
  });
}

function anyReel(seed: number): { reel: PlannedReel; settings: DrawSettings } {
  const random = seeded(seed);
  const settled = settle(copyOf(anyFrames(random, seed)), [0, 2, 5][wholeFrom(random, 0, 2)]);
  const colours = [1, 2, 7, 90, 255][wholeFrom(random, 0, 4)];
  const plan = (['auto', 'loop', 'frame'] as const)[wholeFrom(random, 0, 2)];
  const palettes = planPalettes(settled, { plan, colours, chosen: NO_CHOICE, bytePrice: 1 });
  const dither: DitherName = DITHER_NAMES[wholeFrom(random, 0, DITHER_NAMES.length - 1)];
  const settings = {
    squeeze: [0, 1, 3.5, 12][wholeFrom(random, 0, 3)],
    redrawPrice: [0, 1, 4][wholeFrom(random, 0, 2)],
    isInterlaced: random() < 0.3,
    isDithered: dither !== 'none',
  };
  return { reel: mapColours(settled, palettes, dither, 60), settings };
}

function workOf(reel: PlannedReel, settings: DrawSettings, goesOn: boolean): DrawWork {
  const shown = new Uint32Array(reel.width * reel.height);
  const part = { isFirst: !goesOn, goesOn, clearsAtEnd: false, extraEntries: 1, shown };
  return newDrawWork(reel, settings, part, SINGLE_THREAD);
}

function drawn(work: DrawWork, isPlain: boolean): DrawWork {
  const draw = startDrawing(work, isPlain);
  for (let chunk = 0; chunk < work.bounds.length - 1; chunk++) draw(chunk);
  return work;
}

const copied = (reel: SettledReel): SettledReel => ({ ...reel, frames: copyOf(reel.frames) });

describe('drawing', () => {
  for (let seed = 1; seed <= 60; seed++) {
    it(`gives the same bytes by the kernel and in plain TypeScript (seed ${seed})`, () => {
      const { reel, settings } = anyReel(seed);
      const goesOn = seed % 5 === 0;
      const [fast, plain] = [false, true].map((isPlain) => drawn(workOf(reel, settings, goesOn), isPlain));
      if (!reel.cleared) expect(fast.sizes.some((size) => size > 0)).toBe(true);
      expect(fast.sizes).toEqual(plain.sizes);
      expect(fast.rects).toEqual(plain.rects);
      expect(fast.disposed).toEqual(plain.disposed);
      for (const [chunk, data] of fast.data.entries()) {
        expect(Buffer.compare(data, plain.data[chunk]), `chunk ${chunk}`).toBe(0);
      }
      expect(fast.shownAfter).toEqual(plain.shownAfter);
    });
  }

  it('does not depend on the order in which chunks are drawn, nor on who draws which', () => {
    const frames = movingBall(60, 40, 40, { seed: 3, grain: 4 });
    const settled = settle(copyOf(frames), 3);
    const palettes = planPalettes(settled, { plan: 'auto', colours: 200, chosen: NO_CHOICE, bytePrice: 9 });
    const reel = mapColours(settled, palettes, 'none', 0);
    const settings = { squeeze: 4, redrawPrice: 1.5, isInterlaced: false, isDithered: false };
    const inOrder = drawn(workOf(reel, settings, false), false);
    expect(inOrder.bounds.length - 1).toBeGreaterThan(3);
    const backwards = workOf(reel, settings, false);
    for (let chunk = backwards.bounds.length - 2; chunk >= 0; chunk--) startDrawing(backwards)(chunk);
    expect(backwards.sizes).toEqual(inOrder.sizes);
    for (const [chunk, data] of inOrder.data.entries()) {
      expect(Buffer.compare(data, backwards.data[chunk])).toBe(0);
    }
  });

  it('keeps a dither’s pattern where it is squeezed: as many pixels differ from their neighbours', () => {
    // A smooth ramp of few colours: what a dither is for.
    const frame = createFrame(96, 64);
    for (let p = 0; p < 96 * 64; p++) frame.rgba.set([(p % 96) + 60, 90, 160 - (p % 96), 255], p * 4);
    const settled = settle([frame], 0);
    const palette: Rgb[] = buildPalette(settled, 8);
    const flat = mapColours(copied(settled), { palettes: [palette], paletteOf: [0] }, 'none', 0);
    const steps = (reel: PlannedReel, squeeze: number) => {
      const settings = { squeeze, redrawPrice: 0, isInterlaced: false, isDithered: true };
      const { shownAfter: shown } = drawn(workOf(reel, settings, false), false);
      return shown.reduce((sum, colour, p) => sum + (p % 96 > 0 && colour !== shown[p - 1] ? 1 : 0), 0);
    };
    for (const dither of DITHER_NAMES.filter((name) => name !== 'none')) {
      const reel = mapColours(copied(settled), { palettes: [palette], paletteOf: [0] }, dither, 100);
      const planned = steps(reel, 0);
      expect(planned, dither).toBeGreaterThan(steps(flat, 0) * 3);
      expect(steps(reel, 3), dither).toBeGreaterThan(planned * 0.75);
    }
  });
});
