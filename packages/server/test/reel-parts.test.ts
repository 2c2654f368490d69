import { UNDRESSED } from '@muted-pond/core/dress';
import { startRendering } from '@muted-pond/core/files';
import { changeWeigh, newRecipe, takeOf } from '@muted-pond/core/recipe';
import { planRender } from '@muted-pond/core/render';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readWithFfmpeg } from '../../core/src/testing/independent-readers.js';
import { copyOf, movingBall } from '../../core/src/testing/pictures.js';
import { seeded, wholeFrom } from '../../core/src/testing/seeded.js';
import { composeReel } from '../src/making/compose-reel.js';
import { encodeTask, type MakingFile, sourceFile } from '../src/making/index.js';
import { endOfPart, joinSteady, nextPart, partsOf } from '../src/making/reel-parts.js';
import { probeHere } from '../src/media/index.js';
import { type ClipFolder, clipFolder, goingRound, readNumber } from './clips.js';

let clips: ClipFolder;
let file: MakingFile;

beforeAll(async () => {
  clips = clipFolder();
  const path = clips.make('round.mkv', ...goingRound(24, 12, 12), '-c:v', 'ffv1');
  file = { hash: '0'.repeat(64), path, name: 'round.mkv', facts: await probeHere(path, 'round.mkv') };
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
    expect(parts.map((part) => part.reel.length)).toEqual([17, 17, 17, 17, 18, 17]);
    expect(parts.flatMap((part) => part.reel)).toEqual(reel);
    expect(parts.flatMap((part) => part.beginsCs)).toEqual(beginsCs);
    expect(partsOf(plan, 1e9)).toHaveLength(1);
  });

  it('has parts of about one length whatever is left, also where some end sooner (seed 6)', () => {
    const random = seeded(6);
    for (let turn = 0; turn < 300; turn++) {
      const [frames, most] = [wholeFrom(random, 1, 2000), wholeFrom(random, 2, 120)];
      const lengths: number[] = [];
      for (let left = frames; left > 0; left -= lengths[lengths.length - 1])
        lengths.push(nextPart(left, most));
      const total = lengths.reduce((sum, length) => sum + length, 0);
      expect(total, `${frames} by ${most}`).toBe(frames);
      expect(lengths).toHaveLength(Math.ceil(frames / most));
      expect(Math.max(...lengths)).toBeLessThanOrEqual(most);
      expect(Math.max(...lengths) - Math.min(...lengths)).toBeLessThanOrEqual(1);
      // A scene took some of the first one: the others make up for it.
      const shorter = wholeFrom(random, 1, nextPart(frames, most));
      for (let left = frames - shorter; left > 0; ) {
        const length = nextPart(left, most);
        expect(length).toBeGreaterThan(0);
        expect(length).toBeLessThanOrEqual(most);
        left -= length;
      }
    }
  });

  it('ends a part before a scene that begins in its second half (seed 4)', () => {
    const random = seeded(4);
    const scene = (count: number, level: number) => {
      const frames = movingBall(64, 36, count, { seed: level + 1, grain: 2 });
      for (const { rgba } of frames)
        for (let i = 0; i < rgba.length; i++) if (i % 4 < 3) rgba[i] = (rgba[i] >> 2) + level;
      return frames;
    };
    for (let turn = 0; turn < 12; turn++) {
      const [before, after] = [wholeFrom(random, 4, 20), wholeFrom(random, 4, 20)];
      const frames = [...scene(before, 0), ...scene(after, 150)];
      expect(endOfPart(frames), `${before} and ${after}`).toBe(before >= after ? before : before + after);
      expect(endOfPart(scene(before, 60))).toBe(before);
    }
  });

  it('is drawn anew where a scene begins, and nowhere else: as if its parts were its scenes', async () => {
    const [first, second] = [10, 14];
    const scene = (source: string, frames: number) => [
      '-f',
      'lavfi',
      '-i',
      `${source}=s=96x64:r=12,trim=end_frame=${frames}`,
    ];
    const path = clips.make(
      'two scenes.mkv',
      ...[...scene('testsrc2', first), ...scene('mandelbrot', second)],
      ...['-filter_complex', '[0][1]concat', '-c:v', 'ffv1', '-pix_fmt', 'bgr0'],
    );
    const facts = await probeHere(path, 'it');
    const film: MakingFile = { hash: '1'.repeat(64), path, name: 'two scenes.mkv', facts };
    const base = newRecipe(film.hash, sourceFile(film).times);
    const weigh = changeWeigh(base.weigh, { width: 96, frameRate: 12, gif: { dither: 'none' } });
    const recipe = { ...base, weigh, span: { start: 0, end: first + second } };
    // Sixteen frames at most: halves of twelve, were it not for the scenes.
    const { bytes } = await encodeTask(
      { files: [film], layers: [], recipe },
      { mostHeld: 96 * 64 * 16, measures: false },
    );

    const plan = planRender(recipe, takeOf(recipe, [sourceFile(film)]));
    const { frames } = await composeReel([film], plan, [], { onProgress: () => {} });
    const byHand = (bounds: readonly number[]) => {
      const rendering = startRendering({
        reel: plan.reel,
        settings: recipe.weigh.gif,
        plays: recipe.plays,
        isOpaque: true,
        counts: false,
      });
      for (const [part, end] of bounds.slice(1).entries()) {
        rendering.add(copyOf(frames.slice(bounds[part], end)));
      }
      return rendering.finish().bytes;
    };
    expect(Buffer.compare(bytes, byHand([0, first, first + second]))).toBe(0);
    expect(bytes.length).toBeLessThan(byHand([0, 12, first + second]).length);
    const { delaysCs } = readWithFfmpeg(bytes, 96, 64);
    expect(delaysCs.reduce((sum, delay) => sum + delay, 0)).toBe(200);
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
