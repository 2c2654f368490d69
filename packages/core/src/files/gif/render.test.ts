import { describe, expect, it } from 'vitest';
import { playGif, readGif } from '../../gif/index.js';
import { hexOf } from '../../palette/index.js';
import { createFrame, type PixelFrame } from '../../pixels/index.js';
import { readWithFfmpeg } from '../../testing/independent-readers.js';
import { copyOf, movingBall, noiseFrame } from '../../testing/pictures.js';
import { seeded } from '../../testing/seeded.js';
import { measureLikeness } from '../../weigh/index.js';
import { renderGif, startRendering } from './render.js';
import { DEFAULT_GIF } from './settings.js';

/** SSIM of a file with its reel. */
function likenessOf(reel: readonly PixelFrame[], bytes: Uint8Array, delaysCs: readonly number[]): number {
  return measureLikeness(reel, playGif(readGif(bytes), delaysCs)).ssim;
}

describe('from frames to a file', () => {
  it('has the size and length of its reel, looks like it, and tells of each step', () => {
    const reel = movingBall(80, 45, 12, { grain: 2 });
    const picks = reel.map((_, source) => ({ source, delayCs: source % 3 === 0 ? 9 : 8 }));
    const steps: string[] = [];
    const made = renderGif(copyOf(reel), {
      reel: picks,
      settings: { ...DEFAULT_GIF, dither: 'none' },
      plays: 0,
      onProgress: ({ step, done }) => {
        expect(done).toBeLessThanOrEqual(1);
        if (steps.at(-1) !== step) steps.push(step);
      },
    });
    expect(steps).toEqual(['settle', 'palette', 'dither', 'write']);
    const others = readWithFfmpeg(made.bytes, 80, 45);
    expect(others.delaysCs.reduce((sum, delay) => sum + delay, 0)).toBe(100);
    const delays = picks.map((pick) => pick.delayCs);
    expect(likenessOf(reel, made.bytes, delays)).toBeGreaterThan(0.93);
  });

  it('gives the same bytes for the same frames, every time', () => {
    const reel = movingBall(60, 40, 6, { grain: 6 });
    const picks = reel.map((_, source) => ({ source, delayCs: 8 }));
    const once = renderGif(copyOf(reel), { reel: picks, settings: DEFAULT_GIF, plays: 0 }).bytes;
    expect(
      Buffer.compare(renderGif(copyOf(reel), { reel: picks, settings: DEFAULT_GIF, plays: 0 }).bytes, once),
    ).toBe(0);
  });

  it('may be made part by part: the same frames and delays, hardly more bytes, still places not drawn again', () => {
    const reel = movingBall(120, 80, 24, { grain: 1 });
    const picks = reel.map((_, source) => ({ source, delayCs: 5 + (source % 4) }));
    const options = { reel: picks, settings: { ...DEFAULT_GIF, dither: 'none' as const }, plays: 0 };
    const whole = renderGif(copyOf(reel), options);
    const rendering = startRendering(options);
    for (const from of [0, 12, 18]) rendering.add(copyOf(reel.slice(from, from === 0 ? 12 : from + 6)));
    const inParts = rendering.finish();
    expect(inParts.frameBytes).toHaveLength(24);
    const others = readWithFfmpeg(inParts.bytes, 120, 80);
    expect(others.delaysCs.reduce((sum, delay) => sum + delay, 0)).toBe(
      picks.reduce((sum, { delayCs }) => sum + delayCs, 0),
    );
    const likeness = (bytes: Uint8Array) =>
      measureLikeness(
        reel,
        playGif(
          readGif(bytes),
          picks.map(({ delayCs }) => delayCs),
        ),
      ).ssim;
    expect(likeness(inParts.bytes)).toBeGreaterThan(likeness(whole.bytes) - 0.01);
    // Where the second part begins, less is drawn than a whole frame.
    expect(inParts.frameBytes[12]).toBeLessThan(inParts.frameBytes[0] * 0.75);
  });

  it('in parts has one palette for all where one was asked for, chosen from a sample', () => {
    const reel = [...movingBall(60, 40, 4, { grain: 6 }), ...[0, 1].map(() => noiseFrame(60, 40, seeded(5)))];
    const picks = reel.map((_, source) => ({ source, delayCs: 8 }));
    const settings = { ...DEFAULT_GIF, palette: 'loop' as const, colors: 32 };
    const rendering = startRendering({ reel: picks, settings, plays: 0, sample: copyOf(reel) });
    for (const from of [0, 3]) rendering.add(copyOf(reel.slice(from, from + 3)));
    const { bytes, palettes, colors } = rendering.finish();
    expect([palettes, colors]).toEqual([1, 32]);
    const tables = readGif(bytes).images.map(({ colourTable }) => Buffer.from(colourTable).toString('hex'));
    expect(new Set(tables).size).toBe(1);
  });

  it('weighs less from near lossless to small', () => {
    const reel = movingBall(120, 80, 10, { grain: 5 });
    const picks = reel.map((_, source) => ({ source, delayCs: 8 }));
    const weights = [
      { settle: 0, squeeze: 0 },
      { settle: 2.5, squeeze: 0 },
      { settle: 6, squeeze: 9 },
    ].map(
      (quality) =>
        renderGif(copyOf(reel), { reel: picks, settings: { ...DEFAULT_GIF, ...quality }, plays: 0 }).bytes
          .length,
    );
    expect(weights[1]).toBeLessThan(weights[0]);
    expect(weights[2]).toBeLessThan(weights[1]);
  });

  it('leaves nothing of one still behind in the next, however busy the first was', () => {
    // Dark letters on cream, then plain mint, then dark: the mint must be plain.
    const panel = (ground: readonly number[], marks: boolean) => {
      const frame = createFrame(64, 48);
      for (let p = 0; p < 64 * 48; p++) {
        const isMark = marks && (p % 5 < 2 || Math.floor(p / 64) % 7 < 3);
        frame.rgba.set(isMark ? [22, 48, 46, 255] : [...ground, 255], p * 4);
      }
      return frame;
    };
    const stills = [panel([246, 234, 213], true), panel([220, 239, 231], false), panel([22, 48, 46], false)];
    const picks = stills.map((_, source) => ({ source, delayCs: 200 }));
    const made = renderGif(copyOf(stills), {
      reel: picks,
      settings: { ...DEFAULT_GIF, dither: 'none' },
      plays: 0,
    });
    const second = readWithFfmpeg(made.bytes, 64, 48).pictures[1];
    const colours = new Set(
      Array.from({ length: 64 * 48 }, (_, p) => second.subarray(p * 4, p * 4 + 3).join()),
    );
    expect([...colours]).toEqual(['220,239,231']);
  });

  it('has a kept colour in the file, and not the dropped one; shares add up', () => {
    const reel = movingBall(80, 60, 4, { grain: 6 });
    const picks = reel.map((_, source) => ({ source, delayCs: 8 }));
    const settings = { ...DEFAULT_GIF, colors: 32, dither: 'none' as const };
    const plain = renderGif(copyOf(reel), { reel: picks, settings: settings, plays: 0 });
    const [first] = plain.colours.palette;
    const chosen = { kept: ['#ff00aa'], dropped: [hexOf(first)] };
    const { palette: made, shares } = renderGif(copyOf(reel), {
      reel: picks,
      settings: { ...settings, ...chosen },
      plays: 0,
    }).colours;
    const palette = made.map(hexOf);
    expect(palette).toContain('#ff00aa');
    expect(palette).not.toContain(hexOf(first));
    expect(shares).toHaveLength(palette.length);
    expect(shares.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 6);
    // Hardly anything in the picture is near the brand's pink.
    expect(shares[palette.indexOf('#ff00aa')]).toBeLessThan(0.01);
  });
});
