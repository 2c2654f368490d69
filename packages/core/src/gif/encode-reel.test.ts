import { describe, expect, it } from 'vitest';
import {
  DITHER_NAMES,
  type DitherName,
  mapColours,
  NO_CHOICE,
  PALETTE_PLANS,
  type PalettePlan,
  type PlannedReel,
  planPalettes,
} from '../palette/index.js';
import { type PixelFrame, type Rgb, toOpponent } from '../pixels/index.js';
import { CHROMA_SHARES, settle } from '../settle/index.js';
import { readWithFfmpeg, readWithSharp } from '../testing/independent-readers.js';
import { copyOf, movingBall, noiseFrame } from '../testing/pictures.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { composeGif, encodeGif, playGif, readGif } from './index.js';

interface PlanOptions {
  readonly settle?: number;
  readonly dither?: DitherName;
  readonly palette?: PalettePlan;
}

function plan(frames: readonly PixelFrame[], colours: number, options: PlanOptions = {}): PlannedReel {
  const { settle: levels = 0, dither = 'none', palette = 'loop' } = options;
  const settled = settle(copyOf(frames), levels);
  const palettes = planPalettes(settled, { plan: palette, colours, chosen: NO_CHOICE, bytePrice: 0 });
  return mapColours(settled, palettes, dither, 60);
}

/** What the plan says each frame looks like, RGBA. */
function intended(reel: PlannedReel): Uint8Array[] {
  return overTime(reel, (f, p) => reel.palettes[reel.paletteOf[f]][reel.plans[f][p]]);
}

/** What settling made of each frame, RGBA. */
function settledPictures(reel: PlannedReel): Uint8Array[] {
  return overTime(reel, (f, p) => [...reel.frames[f].rgba.subarray(p * 4, p * 4 + 3)] as unknown as Rgb);
}

function overTime(reel: PlannedReel, colourOf: (frame: number, pixel: number) => Rgb): Uint8Array[] {
  const shown = new Uint8Array(reel.width * reel.height * 4);
  return reel.durations.map((durations, f) => {
    durations.forEach((duration, p) => {
      if (duration > 0) shown.set([...colourOf(f, p), 255], p * 4);
    });
    return shown.slice();
  });
}

function colourAt(rgba: Uint8Array, p: number): Rgb {
  return [rgba[p * 4], rgba[p * 4 + 1], rgba[p * 4 + 2]];
}

/** Squared distance of two colours as it counts at a pixel. */
function distanceAt({ chroma }: PlannedReel, p: number, a: Rgb, b: Rgb): number {
  const [luma, blue, red] = toOpponent(a).map((value, c) => (value - toOpponent(b)[c]) ** 2);
  return luma + (blue + red) * CHROMA_SHARES[chroma[p]];
}

describe('what the writer wrote, read by others', () => {
  for (const dither of DITHER_NAMES) {
    it(`gives the intended pixels and delays in ffmpeg, libvips and our reader, dither ${dither}`, async () => {
      const reel = plan(movingBall(61, 37, 9, { grain: 6 }), 90, { settle: 2, dither });
      const delaysCs = [3, 8, 9, 100, 2, 7, 7, 8, 41];
      const { bytes } = encodeGif(reel, { delaysCs, plays: 0, squeeze: 0 });
      const wanted = intended(reel);
      const byFfmpeg = readWithFfmpeg(bytes, 61, 37);
      const bySharp = await readWithSharp(bytes);
      const byUs = [...composeGif(readGif(bytes))];
      expect(byFfmpeg.pictures).toHaveLength(9);
      expect(byFfmpeg.delaysCs).toEqual(delaysCs);
      expect(bySharp.delaysCs).toEqual(delaysCs);
      wanted.forEach((picture, f) => {
        expect(Buffer.compare(byFfmpeg.pictures[f], picture), `ffmpeg, frame ${f}`).toBe(0);
        expect(Buffer.compare(bySharp.pictures[f], picture), `libvips, frame ${f}`).toBe(0);
        expect(Buffer.compare(byUs[f].rgba, picture), `ours, frame ${f}`).toBe(0);
      });
    });
  }

  for (const palette of PALETTE_PLANS) {
    it(`gives the intended pixels where the palette is for ${palette}, read by ffmpeg and libvips`, async () => {
      // Two scenes, the second as the first by night.
      const dark = movingBall(50, 41, 4, { seed: 5, grain: 9 });
      for (const { rgba } of dark) {
        for (let at = 0; at < rgba.length; at++) if (at % 4 < 3) rgba[at] >>= 2;
      }
      const frames = [...movingBall(50, 41, 4, { seed: 2, grain: 9 }), ...dark];
      const reel = plan(frames, 255, { settle: 3, palette });
      expect(reel.scenes).toEqual([0, 4]);
      // No segment goes on across the cut, and every pixel begins one there.
      expect(reel.durations[4].every((duration) => duration > 0)).toBe(true);
      for (const f of [0, 1, 2, 3]) expect(Math.max(...reel.durations[f])).toBeLessThanOrEqual(4 - f);
      expect(reel.palettes.length).toBe({ auto: reel.palettes.length, loop: 1, frame: 8 }[palette]);
      if (palette === 'auto') expect(reel.palettes.length).toBeGreaterThan(2);
      const delaysCs = frames.map(() => 6);
      const { bytes } = encodeGif(reel, { delaysCs, plays: 0, squeeze: 0 });
      const byFfmpeg = readWithFfmpeg(bytes, 50, 41);
      const bySharp = await readWithSharp(bytes);
      intended(reel).forEach((picture, f) => {
        expect(Buffer.compare(byFfmpeg.pictures[f], picture), `ffmpeg, frame ${f}`).toBe(0);
        expect(Buffer.compare(bySharp.pictures[f], picture), `libvips, frame ${f}`).toBe(0);
      });
    });
  }

  it('leaves a change undrawn only where drawing it would gain less than it costs (seed 12)', () => {
    const frames = movingBall(70, 50, 10, { seed: 12, grain: 5 });
    const reel = plan(frames, 40, { settle: 2 });
    const redrawPrice = 6;
    const delaysCs = frames.map(() => 8);
    const all = encodeGif(reel, { delaysCs, plays: 0, squeeze: 0 });
    const { bytes } = encodeGif(reel, { delaysCs, plays: 0, squeeze: 0, redrawPrice });
    expect(bytes.length).toBeLessThan(all.bytes.length);
    const wanted = intended(reel);
    const meant = settledPictures(reel);
    [...playGif(readGif(bytes), delaysCs)].forEach((picture, f) => {
      for (let p = 0; p < 70 * 50; p++) {
        const settled = colourAt(meant[f], p);
        const error = distanceAt(reel, p, colourAt(picture.rgba, p), settled);
        const planned = distanceAt(reel, p, colourAt(wanted[f], p), settled);
        expect(error).toBeLessThanOrEqual(planned + (redrawPrice * reel.masking[p]) ** 2 + 1e-3);
      }
    });
  });

  for (const colors of [1, 2, 3, 4, 5, 16, 17, 128, 200, 255]) {
    it(`holds with ${colors} colours on noise, through full dictionaries (seed ${colors})`, () => {
      const random = seeded(colors);
      const frames = [0, 1, 2].map(() => noiseFrame(96, 70, random));
      const reel = plan(frames, colors);
      const { bytes } = encodeGif(reel, { delaysCs: [5, 6, 7], plays: 1, squeeze: 0 });
      const read = readWithFfmpeg(bytes, 96, 70);
      const wanted = intended(reel);
      // One colour makes frames alike, and those are merged into one.
      const kept = wanted.filter((picture, f) => f === 0 || Buffer.compare(picture, wanted[f - 1]) !== 0);
      expect(read.pictures).toHaveLength(kept.length);
      for (const [f, picture] of kept.entries()) expect(Buffer.compare(read.pictures[f], picture)).toBe(0);
      expect(read.delaysCs.reduce((sum, delay) => sum + delay, 0)).toBe(18);
    });
  }

  it('keeps squeezed pixels within the allowed error, and still frames still (seed 41)', () => {
    const random = seeded(41);
    const frames = movingBall(80, 60, 8, { seed: 41, grain: 3 });
    const reel = plan(frames, 200, { settle: 3 });
    const squeeze = 9;
    const { bytes } = encodeGif(reel, {
      delaysCs: frames.map(() => wholeFrom(random, 2, 9)),
      plays: 0,
      squeeze,
    });
    const pictures = [...composeGif(readGif(bytes))];
    const wanted = intended(reel);
    const meant = settledPictures(reel);
    pictures.forEach((picture, f) => {
      for (let p = 0; p < 80 * 60; p++) {
        const settled = colourAt(meant[f], p);
        const error = distanceAt(reel, p, colourAt(picture.rgba, p), settled);
        const planned = distanceAt(reel, p, colourAt(wanted[f], p), settled);
        expect(error).toBeLessThanOrEqual(planned + 2 * (squeeze * reel.masking[p]) ** 2 + 1e-3);
      }
      if (f === 0) return;
      for (let p = 0; p < 80 * 60; p++) {
        if (reel.durations[f][p] > 0) continue;
        expect(picture.rgba.subarray(p * 4, p * 4 + 4)).toEqual(
          pictures[f - 1].rgba.subarray(p * 4, p * 4 + 4),
        );
      }
    });
  });

  it('makes a file smaller by squeezing', () => {
    const reel = plan(movingBall(120, 80, 8, { grain: 8 }), 255, { settle: 2 });
    const delaysCs = reel.plans.map(() => 8);
    const plain = encodeGif(reel, { delaysCs, plays: 0, squeeze: 0 }).bytes.length;
    const squeezed = encodeGif(reel, { delaysCs, plays: 0, squeeze: 8 }).bytes.length;
    expect(squeezed).toBeLessThan(plain * 0.95);
  });

  it('says how often it is seen: without end, once, n times', async () => {
    const reel = plan(movingBall(16, 16, 3), 16);
    for (const plays of [0, 1, 2, 7, 65536]) {
      const { bytes } = encodeGif(reel, { delaysCs: [5, 5, 5], plays, squeeze: 0 });
      expect(readGif(bytes).plays).toBe(plays);
      expect(Buffer.from(bytes).includes('NETSCAPE2.0')).toBe(plays !== 1);
    }
    const endless = encodeGif(reel, { delaysCs: [5, 5, 5], plays: 0, squeeze: 0 });
    expect((await readWithSharp(endless.bytes)).plays).toBe(0);
  });

  it('lengthens the frame before instead of writing one that changes nothing', () => {
    const [still] = movingBall(24, 24, 1);
    const reel = plan([still, still, still], 64);
    const { bytes, frameBytes } = encodeGif(reel, { delaysCs: [10, 20, 30], plays: 0, squeeze: 0 });
    expect(readGif(bytes).images.map((image) => image.delayCs)).toEqual([60]);
    expect(frameBytes.slice(1)).toEqual([0, 0]);
    expect([...playGif(readGif(bytes), [10, 20, 30])]).toHaveLength(3);
  });

  it('keeps a delay too long for one frame by writing the next one', () => {
    const [still] = movingBall(8, 8, 1);
    const { bytes } = encodeGif(plan([still, still], 8), { delaysCs: [60000, 60000], plays: 0, squeeze: 0 });
    expect(readGif(bytes).images.map((image) => image.delayCs)).toEqual([60000, 60000]);
  });

  it('adds the frames up to the file', () => {
    const reel = plan(movingBall(40, 30, 6, { grain: 5 }), 64);
    const { bytes, frameBytes } = encodeGif(reel, {
      delaysCs: reel.plans.map(() => 6),
      plays: 0,
      squeeze: 4,
    });
    const sum = frameBytes.reduce((total, frame) => total + frame, 0);
    // Screen, colour table of 128 entries, looping block and trailer.
    expect(bytes.length).toBe(sum + 13 + 128 * 3 + 19 + 1);
  });

  it('refuses what the format cannot redrawPrice, naming value, limit and remedy', () => {
    const reel = plan(movingBall(8, 8, 2), 8);
    const refuse = (change: object) => () =>
      encodeGif(reel, { delaysCs: [5, 5], plays: 0, squeeze: 0, ...change });
    expect(refuse({ delaysCs: [5] })).toThrow('2 frames but 1 delays');
    expect(refuse({ delaysCs: [5, 65536] })).toThrow(/65536 hundredths.*65535.*Repeat/);
    expect(refuse({ delaysCs: [5, 2.5] })).toThrow('whole');
    expect(refuse({ plays: -1 })).toThrow('seen -1 times');
  });
});
