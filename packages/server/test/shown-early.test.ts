import { fileKind, LOOP_KINDS } from '@muted-pond/core/files';
import { playGif, readGif } from '@muted-pond/core/gif';
import type { PixelFrame } from '@muted-pond/core/pixels';
import { changeWeigh, newRecipe, type Recipe, takeOf } from '@muted-pond/core/recipe';
import { planRender } from '@muted-pond/core/render';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { composeReel } from '../src/making/compose-reel.js';
import { encodeTask, type MakingFile, sourceFile } from '../src/making/index.js';
import { gif } from '../src/making/kinds/gif.js';
import { probeHere } from '../src/media/index.js';
import { threadCache } from '../src/threads/index.js';
import { type ClipFolder, clipFolder, NUMBERED_WIDTH, numberedFrames, readNumber } from './clips.js';

const FRAMES = 24;

let clips: ClipFolder;
let file: MakingFile;

beforeAll(async () => {
  clips = clipFolder();
  const path = clips.make('numbered.mkv', ...numberedFrames(FRAMES, 12), '-c:v', 'ffv1', '-pix_fmt', 'bgr0');
  file = { hash: '0'.repeat(64), path, name: 'numbered.mkv', facts: await probeHere(path, 'numbered.mkv') };
});
afterAll(() => clips.remove());

function recipeWith(edit: (recipe: Recipe) => Recipe): Recipe {
  const base = newRecipe(file.hash, sourceFile(file).times);
  const weigh = changeWeigh(base.weigh, { width: NUMBERED_WIDTH, frameRate: 12, gif: { dither: 'none' } });
  return edit({ ...base, weigh, span: { start: 2, end: 20 } });
}

/** What is told while a reel is composed: the numbers its frames show, and how much had been read by then. */
async function told(recipe: Recipe) {
  const plan = planRender(recipe, takeOf(recipe, [sourceFile(file)]));
  const early: { shows: number; done: number }[] = [];
  const frames: PixelFrame[] = [];
  let done = 0;
  const composed = await composeReel([file], plan, [], {
    onProgress: (share) => {
      done = share;
    },
    onFrame: (frame) => {
      frames.push(frame);
      early.push({ shows: readNumber(frame.rgba, 4, frame.width), done });
    },
  });
  expect(frames).toEqual(composed.frames);
  return { early, sources: plan.reel.map(({ source }) => source) };
}

describe('frames of a reel that are shown as they come', () => {
  it('are told in their order, each as soon as it has been read', async () => {
    threadCache.clear();
    const { early, sources } = await told(recipeWith((recipe) => recipe));
    expect(early.map(({ shows }) => shows)).toEqual(sources);
    early.forEach(({ done }, i) => {
      expect(done).toBeLessThanOrEqual((i + 1) / sources.length);
    });
  });

  it('are told in the order of the reel where that runs backwards, or rests on later ones', async () => {
    for (const edit of [
      (recipe: Recipe) => ({ ...recipe, loop: { ...recipe.loop, reverse: true } }),
      (recipe: Recipe) => ({
        ...recipe,
        loop: { ...recipe.loop, join: { kind: 'there-and-back' as const } },
      }),
    ]) {
      const { early, sources } = await told(recipeWith(edit));
      expect(sources.length).toBeGreaterThan(10);
      expect(early.map(({ shows }) => shows)).toEqual(sources);
    }
  });

  it('are told of a reel that is remembered as well', async () => {
    const first = await told(recipeWith((recipe) => recipe));
    const again = await told(recipeWith((recipe) => recipe));
    expect(again.early.map(({ shows }) => shows)).toEqual(first.sources);
  });

  it('make the same file as if none had been shown', async () => {
    const recipe = recipeWith((one) => one);
    const task = { files: [file], layers: [], recipe };
    const early = await encodeTask(task, { measures: false });
    const plan = planRender(recipe, takeOf(recipe, [sourceFile(file)]));
    const { frames } = await composeReel([file], plan, [], { onProgress: () => {} });
    const making = await gif.start({
      ...{ recipe, plan, isOpaque: true, isInParts: false, counts: false },
      sample: () => expect.fail(),
      threads: {
        allocate: (bytes) => new ArrayBuffer(bytes),
        run: (job, parts, start) => each(parts, start(job)),
      },
      onProgress: () => {},
    });
    await making.add(frames);
    const { bytes } = await making.finish();
    expect(Buffer.compare(early.bytes, bytes)).toBe(0);
    const delays = plan.reel.map(({ delayCs }) => delayCs);
    const shows = [...playGif(readGif(bytes), delays)].map(({ rgba }) => readNumber(rgba, 4, NUMBERED_WIDTH));
    expect(shows).toEqual(plan.reel.map(({ source }) => source));
  });

  it('are shown to every kind of file that wants them, and each shows the reel all the same', async () => {
    for (const kind of LOOP_KINDS.filter((one) => fileKind(one).holds.alpha !== 'none')) {
      const recipe = recipeWith((one) => ({ ...one, weigh: changeWeigh(one.weigh, { kind }) }));
      const { figures } = await (await encodeTask({ files: [file], layers: [], recipe })).finish();
      expect(figures.frames, kind).toBe(18);
      expect(figures.likeness, kind).toBeGreaterThan(0.9);
    }
  });
});

function each(parts: number, doPart: (part: number) => void): void {
  for (let part = 0; part < parts; part++) doPart(part);
}
