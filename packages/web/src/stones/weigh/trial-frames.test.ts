import { DEFAULT_GIF, type GifSettings, QUALITIES, renderGif } from '@muted-pond/core/files';
import { createFrame } from '@muted-pond/core/pixels';
import { changeWeigh, DEFAULT_WEIGH } from '@muted-pond/core/recipe';
import { describe, expect, it } from 'vitest';
import { readWithSharp } from '../../../../core/src/testing/independent-readers.js';
import { seeded } from '../../../../core/src/testing/seeded.js';
import { SHIPPED_LIMITS } from '../../../../core/src/testing/shipped-limits.js';
import { onlyColour } from '../../trials/only-colour.js';
import { verdictOf } from '../../trials/overrun-words.js';
import { TrialFrames } from '../../trials/trial-frames.js';
import { gaveUpWords } from './gave-up-words.js';

const DELAYS = [8, 9, 40, 8, 8];

/** A file whose frames change in places only, so that each builds on the one before. */
function fileOf(seed: number): Uint8Array {
  const random = seeded(seed);
  let rgba = new Uint8Array(24 * 18 * 4).fill(255);
  const frames = DELAYS.map(() => {
    rgba = rgba.slice();
    for (let p = 0; p < 24 * 18; p++) {
      if (random() < 0.3) rgba.set([random() * 255, random() * 255, 40, 255], p * 4);
    }
    return createFrame(24, 18, rgba);
  });
  const reel = DELAYS.map((delayCs, source) => ({ source, delayCs }));
  return renderGif(frames, { reel, settings: { ...DEFAULT_GIF, settle: 0, squeeze: 0 }, plays: 0 }).bytes;
}

describe('the pictures of a file by time', () => {
  it.each([4, 11])('are those an independent reader sees, forwards and back (seed %i)', async (seed) => {
    const bytes = fileOf(seed);
    const { pictures } = await readWithSharp(bytes);
    expect(pictures).toHaveLength(DELAYS.length);
    const frames = new TrialFrames(bytes);
    expect([frames.width, frames.height, frames.centiseconds]).toEqual([24, 18, 73]);
    // Each first and last moment, then round again, then back.
    for (const [at, shown] of [
      ...[
        [0, 0],
        [7.9, 0],
        [8, 1],
        [17, 2],
        [56, 2],
        [57, 3],
        [72, 4],
      ],
      ...[
        [73, 0],
        [73 * 4 + 20, 2],
        [9, 1],
        [0, 0],
      ],
    ]) {
      expect(Buffer.compare(frames.at(at).rgba, pictures[shown])).toBe(0);
    }
  });

  it('stand for a tenth of a second each where a viewer draws short delays out', () => {
    const frame = (level: number) => {
      const one = createFrame(4, 4);
      for (let at = 0; at < 64; at += 4) one.rgba.set([level, level, level, 255], at);
      return one;
    };
    const reel = [3, 5, 6, 20].map((delayCs, source) => ({ source, delayCs }));
    const settings = { ...DEFAULT_GIF, dither: 'none' as const, settle: 0, squeeze: 0 };
    const { bytes } = renderGif([10, 20, 30, 40].map(frame), { reel, settings, plays: 0 });
    const frames = new TrialFrames(bytes);
    const shown = [0, 9.9, 10, 19.9, 20, 25.9, 26, 45.9, 46].map((at) => frames.at(at, true).rgba[0]);
    expect(shown).toEqual([10, 10, 20, 20, 30, 30, 40, 40, 10]);
    expect([0, 2.9, 3, 8, 14].map((at) => frames.at(at).rgba[0])).toEqual([10, 10, 20, 30, 40]);
  });

  it('of bytes that are no file are refused', () => {
    expect(() => new TrialFrames(new TextEncoder().encode('Dear tea house'))).toThrow();
  });
});

describe('one colour alone', () => {
  it('stays as it is while the rest dims', () => {
    const rgba = Uint8Array.from([31, 138, 112, 255, 31, 138, 113, 255, 250, 250, 250, 0]);
    const only = onlyColour(rgba, '#1f8a70');
    expect([...only.subarray(0, 4)]).toEqual([31, 138, 112, 255]);
    expect(only[5]).toBeLessThan(70);
    expect(only[8]).toBeLessThan(80);
    expect(only[11]).toBe(0);
    expect(rgba[8]).toBe(250);
  });
});

describe('in words', () => {
  const [, blog] = SHIPPED_LIMITS;
  const file = { bytes: 812_000, width: 480, height: 270, frames: 29, durationMs: 2400 };

  it('a file is under a limit, or over it in what it is over', () => {
    expect(verdictOf(blog, file)).toEqual({ fits: true, words: '88 KB under' });
    expect(verdictOf(blog, { ...file, bytes: 1_200_000, width: 640 })).toEqual({
      fits: false,
      words: '300 KB over, 80 px too wide',
    });
    expect(verdictOf({ ...blog, frameRate: 10, seconds: 2 }, { ...file, hasAlpha: true })?.words).toBe(
      '0.40 s too long, 12.08 fps, 10 at most, must not be transparent',
    );
    expect(verdictOf(null, file)).toBeNull();
    expect(verdictOf(blog, null)).toBeNull();
  });

  it('it is told what a fitted file gave up', () => {
    const weighOf = (gif: Partial<GifSettings>) => changeWeigh(DEFAULT_WEIGH, { gif });
    expect(gaveUpWords(weighOf({ colors: 256, ...QUALITIES['near-lossless'] }))).toBe('nothing dropped');
    expect(gaveUpWords(weighOf({ colors: 96, ...QUALITIES.small }))).toBe(
      '96 colours, small changes dropped',
    );
    expect(gaveUpWords(weighOf({ colors: 256, settle: 9, squeeze: 12 }))).toBe('coarse in what moves');
    const movie = changeWeigh(DEFAULT_WEIGH, { kind: 'mp4', mp4: { quality: 40, settle: 2 } });
    expect(gaveUpWords(movie)).toBe('quality 40, settle 2');
  });
});
