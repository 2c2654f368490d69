import { UserError } from '@muted-pond/core/errors';
import { createFrame, type PixelFrame } from '@muted-pond/core/pixels';
import { newRecipe, type Recipe, type SourceFile } from '@muted-pond/core/recipe';
import { type FrameSource, NOTHING_KEPT } from '@muted-pond/core/render';
import { createMask } from '@muted-pond/core/still';
import { describe, expect, it } from 'vitest';
import { type ComposeAnswer, createComposeWork } from './compose-work.js';

const SIZE = { width: 32, height: 16 };
const times = { starts: Array.from({ length: 40 }, (_, i) => i / 10), duration: 4 };
const file: SourceFile = { hash: 'a'.repeat(64), size: SIZE, times };

function flat(level: number): PixelFrame {
  const rgba = new Uint8Array(SIZE.width * SIZE.height * 4).fill(255);
  for (let i = 0; i < rgba.length; i += 4) rgba.fill(level, i, i + 3);
  return createFrame(SIZE.width, SIZE.height, rgba);
}

/** Frames whose level is their number; those that are `lost` cannot be had. */
function source(lost: readonly number[] = []) {
  const asked: number[] = [];
  const frames: FrameSource = {
    sizeOf: () => SIZE,
    async *read(_, wanted) {
      for (const frame of wanted) {
        asked.push(frame);
        if (lost.includes(frame)) throw new UserError('file_gone', `Frame ${frame} is gone.`);
        yield { frame, picture: flat(frame) };
      }
    },
    ...NOTHING_KEPT,
    mask: async () => createMask(32, 16, new Uint8Array(512).fill(255)),
    picture: async () => flat(200),
  };
  return { frames, asked };
}

function recipeOf(held: boolean, end = 12): Recipe {
  const base = newRecipe(file.hash, times);
  const ripple = {
    ...{ id: 'a', name: 'a', mask: 'b'.repeat(64), outlines: [], grow: 0, feather: 0 },
    ...{ invert: false, shown: true, loop: null },
  };
  return {
    ...base,
    span: { start: 2, end },
    weigh: { ...base.weigh, width: 32, frameRate: 10 },
    still: held ? { ...base.still, plate: { kind: 'frame', frame: 30 }, ripples: [ripple] } : base.still,
  };
}

/** Answers as they come, and a promise for the one that is the n-th. */
function listening() {
  const answers: ComposeAnswer[] = [];
  const waiting: { count: number; done: () => void }[] = [];
  return {
    answers,
    answer(one: ComposeAnswer) {
      answers.push(one);
      for (const { count, done } of waiting) if (answers.length >= count) done();
    },
    until: (count: number) => new Promise<void>((done) => waiting.push({ count, done })),
  };
}

const show = (plan: number, place: number, layers = false) =>
  ({ type: 'show', plan, place, layers }) as const;

describe('the composing worker', () => {
  it('shows the places that were asked for, in that order', async () => {
    const { frames } = source();
    const { answers, answer, until } = listening();
    const work = createComposeWork(frames, answer);
    work({ type: 'plan', plan: 1, recipe: recipeOf(false), files: [file], weaves: {}, isDraft: false });
    const all = until(3);
    for (const place of [4, 0, 9]) work(show(1, place));
    await all;
    expect(answers.map((one) => one.type === 'composed' && [one.place, one.frame.rgba[0]])).toEqual([
      [4, 6],
      [0, 2],
      [9, 11],
    ]);
  });

  it('tells what is held once, and the layers of each place', async () => {
    const { answers, answer, until } = listening();
    const work = createComposeWork(source().frames, answer);
    work({ type: 'plan', plan: 1, recipe: recipeOf(true), files: [file], weaves: {}, isDraft: false });
    const all = until(3);
    work(show(1, 1, true));
    work(show(1, 2, true));
    await all;
    expect(answers.map(({ type }) => type)).toEqual(['held', 'composed', 'composed']);
    const [held, first] = answers;
    expect(held.type === 'held' && [held.held.picture.rgba[0], held.held.masks.length]).toEqual([30, 1]);
    expect(first.type === 'composed' && first.layers?.moving.map(({ rgba }) => rgba[0])).toEqual([3]);
    expect(first.type === 'composed' && first.layers?.whole.rgba[0]).toBe(3);
  });

  it('forgets what was asked of an earlier plan', async () => {
    const { frames, asked } = source();
    const { answers, answer, until } = listening();
    const work = createComposeWork(frames, answer);
    work({ type: 'plan', plan: 1, recipe: recipeOf(false), files: [file], weaves: {}, isDraft: false });
    for (let place = 0; place < 8; place++) work(show(1, place));
    work({ type: 'plan', plan: 2, recipe: recipeOf(false, 20), files: [file], weaves: {}, isDraft: false });
    const one = until(1);
    work(show(2, 17));
    await one;
    expect(answers).toMatchObject([{ type: 'composed', plan: 2, place: 17 }]);
    expect(asked.length).toBeLessThanOrEqual(2);
  });

  it('says why a place cannot be shown, and shows the others', async () => {
    const { answers, answer, until } = listening();
    const work = createComposeWork(source([5]).frames, answer);
    work({ type: 'plan', plan: 1, recipe: recipeOf(false), files: [file], weaves: {}, isDraft: false });
    const all = until(2);
    work(show(1, 3));
    work(show(1, 4));
    await all;
    expect(answers[0]).toEqual({ type: 'failed', plan: 1, place: 3, problem: 'Frame 5 is gone.' });
    expect(answers[1]).toMatchObject({ type: 'composed', place: 4 });
  });
});
