import { UNDRESSED } from '@muted-pond/core/dress';
import { changeWeigh, newRecipe } from '@muted-pond/core/recipe';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readWithFfmpeg } from '../../core/src/testing/independent-readers.js';
import { encodeTask, type MakingFile, sourceFile } from '../src/making/index.js';
import { joinSteady, partsOf } from '../src/making/reel-parts.js';
import { probeFile } from '../src/media/index.js';
import { type ClipFolder, clipFolder, goingRound, readNumber } from './clips.js';

let clips: ClipFolder;
let file: MakingFile;

beforeAll(async () => {
  clips = clipFolder();
  const path = clips.make('round.mkv', ...goingRound(24, 12, 12), '-c:v', 'ffv1');
  file = { hash: '0'.repeat(64), path, name: 'round.mkv', facts: await probeFile(path, 'round.mkv') };
});

afterAll(() => clips.remove());

describe('a reel too long to be held at once', () => {
  it('is made part by part, each frame in its place', async () => {
    const base = newRecipe(file.hash, sourceFile(file).times);
    const weigh = changeWeigh(base.weigh, { gif: { settle: 0, squeeze: 0, dither: 'none' } });
    const recipe = { ...base, weigh };
    const task = { files: [file], layers: [], recipe };
    const whole = await (await encodeTask(task)).finish();
    const { width, height, frames } = whole.figures;
    const inParts = await (await encodeTask(task, { mostHeld: width * height * 7 })).finish();
    const [one, other] = [whole, inParts].map(({ bytes }) => readWithFfmpeg(bytes, width, height));
    expect(inParts.figures.frames).toBe(frames);
    expect(other.pictures.map((rgba) => readNumber(rgba, 4, width))).toEqual(
      one.pictures.map((rgba) => readNumber(rgba, 4, width)),
    );
    expect(Math.abs(inParts.figures.likeness - whole.figures.likeness)).toBeLessThan(0.01);
  });

  it('falls into parts of about one length, none over what may be held', () => {
    const reel = Array.from({ length: 103 }, (_, source) => ({ source, delayCs: 4 }));
    const size = { width: 100, height: 50 };
    const take = { size, times: { starts: [0], duration: 1 }, frame: () => expect.fail() };
    const beginsCs = reel.map((_, place) => place * 4);
    const plan = {
      take,
      reel,
      beginsCs,
      size,
      still: null,
      dress: UNDRESSED,
      steadyTo: null,
      weaves: {},
      isDraft: false,
      composition: () => expect.fail(),
    };
    const parts = partsOf(plan, 100 * 50 * 20);
    expect(parts.map((part) => part.reel.length)).toEqual([17, 17, 18, 17, 17, 17]);
    expect(parts.flatMap((part) => part.reel)).toEqual(reel);
    expect(parts.flatMap((part) => part.beginsCs)).toEqual(beginsCs);
    expect(partsOf(plan, 1e9)).toHaveLength(1);
  });

  it('tells how still the camera is over all parts', () => {
    const part = (beforePx: number, frames: number) => ({ beforePx, afterPx: 0, frames, untrusted: 1 });
    expect(joinSteady([null, null])).toBeNull();
    expect(joinSteady([part(3, 10), null, part(0, 30)])).toEqual({
      beforePx: 1.5,
      afterPx: 0,
      frames: 40,
      untrusted: 2,
    });
  });
});
