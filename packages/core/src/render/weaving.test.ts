import { describe, expect, it } from 'vitest';
import { joinOf, PLAIN_LOOP, type Woven } from '../loop/index.js';
import { createFrame, mixFrames, type PixelFrame } from '../pixels/index.js';
import { newRecipe, type Recipe, type SourceFile, takeOf } from '../recipe/index.js';
import type { Ripple } from '../still/index.js';
import { createMask } from '../still/index.js';
import { STILL } from '../weave/index.js';
import { type FrameSource, NOTHING_KEPT } from './frame-source.js';
import { planRender } from './plan-render.js';
import { composedKey, framesOf, startSteps } from './run-steps.js';
import {
  lookAtTake,
  lookKey,
  planWeaving,
  type WeaveWish,
  weaveKey,
  wishedWeaves,
  wovenPart,
} from './weaving.js';

const SIZE = { width: 96, height: 48 };
const MASK = 'b'.repeat(64);

/** A disc that breathes on textured ground. */
function breathing(count: number, period: number, isClear = false): PixelFrame[] {
  return Array.from({ length: count }, (_, t) => {
    const frame = createFrame(SIZE.width, SIZE.height);
    const size = 120 + 60 * Math.sin((2 * Math.PI * t) / period);
    for (let y = 0, i = 0; y < SIZE.height; y++) {
      for (let x = 0; x < SIZE.width; x++, i += 4) {
        const far = (x - 30) ** 2 + (y - 24) ** 2;
        const level = 110 + 30 * Math.sin(x / 4) * Math.sin(y / 5) + 70 * Math.exp(-far / size);
        frame.rgba.fill(Math.round(level), i, i + 3);
        frame.rgba[i + 3] = isClear && x > 80 ? 0 : 255;
      }
    }
    return frame;
  });
}

function fileOf(frames: readonly PixelFrame[]): SourceFile {
  const times = { starts: frames.map((_, t) => t / 25), duration: frames.length / 25 };
  return { hash: 'a'.repeat(64), size: frames[0], times };
}

function sourceOf(frames: readonly PixelFrame[]): FrameSource {
  return {
    ...NOTHING_KEPT,
    sizeOf: () => frames[0],
    async *read(_, wanted) {
      for (const frame of wanted) yield { frame, picture: frames[frame] };
    },
    mask: async () => {
      const mask = createMask(SIZE.width, SIZE.height);
      for (let p = 0; p < mask.values.length; p++) if (p % SIZE.width < 60) mask.values[p] = 255;
      return mask;
    },
  };
}

function woven(part: Partial<Woven> = {}): Woven {
  const base = joinOf({ kind: 'per-pixel' }).over(24) as Woven;
  return { ...base, steady: false, ...part };
}

function recipeOf(file: SourceFile, join: Woven = woven()): Recipe {
  const base = newRecipe(file.hash, file.times);
  return {
    ...base,
    span: { start: 4, end: file.times.starts.length - 4 },
    loop: { ...PLAIN_LOOP, join },
    weigh: { ...base.weigh, width: SIZE.width, frameRate: 'source' },
  };
}

const ripple = (part: Partial<Ripple> = {}): Ripple => ({
  ...{ id: 'a', name: 'a', mask: MASK, outlines: [], grow: 0, feather: 0 },
  ...{ invert: false, shown: true, loop: null },
  ...part,
});

function held(recipe: Recipe, ripples: readonly Ripple[]): Recipe {
  return { ...recipe, still: { ...recipe.still, plate: { kind: 'frame', frame: 9 }, ripples } };
}

async function weave(frames: readonly PixelFrame[], recipe: Recipe) {
  const take = takeOf(recipe, [fileOf(frames)]);
  const [wish] = wishedWeaves(recipe) as [WeaveWish];
  const plan = planWeaving(recipe, take, wish.span);
  const looked = await lookAtTake(plan, wish, sourceOf(frames));
  return { take, plan, wish, looked, part: wovenPart(looked, plan, wish, 'one') };
}

describe('weaves that a recipe asks for', () => {
  const file = fileOf(breathing(80, 24));
  const recipe = recipeOf(file);

  it('are one of the whole picture, where nothing is held', () => {
    expect(wishedWeaves(recipe)).toEqual([
      { name: 'reel', settings: recipe.loop.join, span: { start: 4, end: 76 }, ripples: null },
    ]);
    expect(wishedWeaves({ ...recipe, loop: PLAIN_LOOP })).toEqual([]);
  });

  it('are none where the span is too short, and the reel is a plain cut then', () => {
    const short = { ...recipe, span: { start: 10, end: 40 } };
    expect(wishedWeaves(short)).toEqual([]);
    const { reel } = planRender(short, takeOf(short, [file]));
    expect(reel).toHaveLength(30);
    expect(reel.every((pick) => pick.woven === undefined)).toBe(true);
  });

  it('are seen through the ripples that loop with the reel, and are one for each round of its own', () => {
    const own = { span: { start: 0, end: 60 }, join: woven({ frames: 20 }), rounds: 2 };
    const ripples = [
      ripple(),
      ripple({ id: 'hidden', shown: false }),
      ripple({ id: 'b', loop: own }),
      ripple({ id: 'c', loop: own }),
      ripple({ id: 'd', loop: { ...own, join: { kind: 'cut' } } }),
    ];
    const [whole, alone, ...more] = wishedWeaves(held(recipe, ripples));
    expect(whole.ripples).toEqual(['a']);
    expect(alone.ripples).toEqual(['b', 'c']);
    expect(alone.span).toEqual(own.span);
    expect(more).toEqual([]);
    const plan = planRender(held(recipe, ripples), takeOf(recipe, [file]));
    const names = plan.still?.layers.map(({ reel }) => reel[0].woven);
    expect(names).toEqual(['reel', alone.name, alone.name, undefined]);
    expect(wishedWeaves(held(recipe, ripples.slice(1, 2)))).toEqual([]);
  });

  it('have another key for everything they depend on, and the same for what they do not', () => {
    const keyOf = (one: Recipe) => {
      const [wish] = wishedWeaves(one) as [WeaveWish];
      return weaveKey(planWeaving(one, takeOf(one, [file]), wish.span), wish);
    };
    const changed: Recipe[] = [
      recipeOf(file, woven({ frames: 23 })),
      recipeOf(file, woven({ liveliness: 17 })),
      recipeOf(file, woven({ plate: 3 })),
      recipeOf(file, woven({ steady: true })),
      recipeOf(file, woven({ touches: [{ moves: true, points: [[0.5, 0.5]], radius: null }] })),
      { ...recipe, span: { start: 5, end: 76 } },
      { ...recipe, framing: { ...recipe.framing, crop: { x: 0, y: 0, width: 48, height: 48 } } },
      { ...recipe, framing: { ...recipe.framing, mirror: true } },
      held(recipe, [ripple()]),
      held(recipe, [ripple({ grow: 3 })]),
      held(recipe, [ripple({ mask: 'c'.repeat(64) })]),
    ];
    const keys = [recipe, ...changed].map(keyOf);
    expect(new Set(keys).size).toBe(keys.length);
    const same: Recipe[] = [
      { ...recipe, weigh: { ...recipe.weigh, width: 64, frameRate: 10 } },
      { ...recipe, plays: 3 },
      { ...recipe, loop: { ...recipe.loop, speed: 2, reverse: true } },
    ];
    for (const one of same) expect(keyOf(one)).toBe(keyOf(recipe));
    // A look is shared by all weaves over it that differ in wishes only.
    const lookOf = (one: Recipe) => {
      const [wish] = wishedWeaves(one) as [WeaveWish];
      return lookKey(planWeaving(one, takeOf(one, [file]), wish.span), wish);
    };
    expect(lookOf(changed[1])).toBe(lookOf(recipe));
    expect(lookOf(changed[5])).not.toBe(lookOf(recipe));
  });
});

describe('a woven reel', () => {
  const frames = breathing(80, 24);
  const file = fileOf(frames);

  it('lasts one round, and shows in every cell what its weave says', async () => {
    const recipe = recipeOf(file);
    const { part, take } = await weave(frames, recipe);
    expect(part.moving).toBeGreaterThan(0.05);
    expect(part.energy).toBeLessThan(5);
    const plan = planRender(recipe, take, { weaves: { reel: part.weave } });
    expect(plan.reel).toHaveLength(24);
    const run = await startSteps(plan, sourceOf(frames));
    await run.read(framesOf(plan));
    for (const place of [0, 7, 23]) {
      const { rgba } = run.show(place);
      const { starts, plate, cols } = part.weave;
      // The middle of a cell whose neighbours show the same is that frame.
      const cell = 3 * cols + 10;
      expect(starts[cell]).toBe(STILL);
      const i = ((3 * 8 + 4) * SIZE.width + 10 * 8 + 4) * 4;
      expect(rgba[i]).toBe(frames[plate].rgba[i]);
    }
  });

  it('without its weave is a cut, and asks for no more than that', async () => {
    const recipe = recipeOf(file);
    const plan = planRender(recipe, takeOf(recipe, [file]));
    expect(framesOf(plan)).toEqual(Array.from({ length: 24 }, (_, t) => t + 4));
    const run = await startSteps(plan, sourceOf(frames));
    await run.read(framesOf(plan));
    expect(run.show(3).rgba).toEqual(frames[7].rgba);
  });

  it('has another key for another weave of the same recipe', async () => {
    const recipe = recipeOf(file);
    const { part, take } = await weave(frames, recipe);
    const of = (id: string) =>
      composedKey(planRender(recipe, take, { weaves: { reel: { ...part.weave, id } } }));
    expect(of('one')).not.toBe(of('two'));
    expect(of('one')).not.toBe(composedKey(planRender(recipe, take)));
  });

  it('shows another weave once it is planned anew, though the frames of the take are the same', async () => {
    const recipe = recipeOf(file);
    const { part, take } = await weave(frames, recipe);
    const { weave: one } = part;
    const other = { ...one, id: 'other', starts: one.starts.map(() => 10) };
    const run = await startSteps(planRender(recipe, take, { weaves: { reel: one } }), sourceOf(frames));
    await run.read([...frames.keys()]);
    const before = run.show(5);
    const next = await run.replan(planRender(recipe, take, { weaves: { reel: other } }));
    expect(next.show(5).rgba).not.toEqual(before.rgba);
  });

  it('mixes the weaves of two places where a frame is blended by hand', async () => {
    const recipe = recipeOf(file);
    const { part, take } = await weave(frames, recipe);
    const plan = planRender(recipe, take, { weaves: { reel: part.weave } });
    const blended = {
      ...plan,
      reel: [
        { ...plan.reel[3], blend: { source: plan.reel[4].source, share: 0.5 } },
        plan.reel[3],
        plan.reel[4],
      ],
    };
    const run = await startSteps(blended, sourceOf(frames));
    await run.read([...frames.keys()]);
    const wanted = mixFrames([run.show(1), run.show(2)], [0.5, 0.5]);
    run.show(0).rgba.forEach((value, i) => {
      expect(Math.abs(value - wanted.rgba[i])).toBeLessThanOrEqual(1);
    });
  });

  it('moves only within what may move, where something is held', async () => {
    const recipe = held(recipeOf(file, woven({ liveliness: 64 })), [ripple()]);
    const { part } = await weave(frames, recipe);
    const { starts, cols, plate } = part.weave;
    expect(plate).toBe(9);
    for (const [cell, start] of starts.entries()) if (cell % cols >= 8) expect(start).toBe(STILL);
    expect(starts.some((start) => start !== STILL)).toBe(true);
  });

  it('holds the part that was clicked, and what a stroke went over', async () => {
    const click = { moves: false, points: [[30 / 96, 0.5]] as [number, number][], radius: null };
    expect((await weave(frames, recipeOf(file, woven({ touches: [click] })))).part.moving).toBe(0);
    const free = {
      moves: true,
      points: [
        [0.8, 0.1],
        [0.95, 0.1],
      ] as [number, number][],
      radius: 0.03,
    };
    const { part } = await weave(frames, recipeOf(file, woven({ touches: [click, free] })));
    expect(part.weave.starts[cellAt(part.weave.cols, 0.85, 0.1)]).not.toBe(STILL);
    expect(part.weave.starts[cellAt(part.weave.cols, 0.3, 0.5)]).toBe(STILL);
  });
});

const cellAt = (cols: number, x: number, y: number) =>
  Math.floor((y * SIZE.height) / 8) * cols + Math.floor((x * SIZE.width) / 8);

describe('takes that can hardly be woven', () => {
  it('are told where the scene is cut too often', async () => {
    const bright = breathing(20, 9).map((frame) => ({
      ...frame,
      rgba: frame.rgba.map((value, i) => (i % 4 === 3 ? 255 : 255 - value)),
    }));
    const dark = breathing(20, 9);
    const frames = [...dark, ...bright, ...dark, ...bright];
    await expect(weave(frames, recipeOf(fileOf(frames)))).rejects.toThrow(
      'its longest scene has 20 frames, and a woven round of 24 takes 37',
    );
  });

  it('take the longest scene where it is long enough', async () => {
    const bright = breathing(60, 24).map((frame) => ({
      ...frame,
      rgba: frame.rgba.map((value, i) => (i % 4 === 3 ? 255 : 255 - value)),
    }));
    const frames = [...breathing(20, 9), ...bright];
    const { part } = await weave(frames, recipeOf(fileOf(frames)));
    expect(part.weave.from).toBe(20);
    expect(part.weave.plate).toBeGreaterThanOrEqual(20);
  });

  it('are woven with alpha as without', async () => {
    const frames = breathing(80, 24, true);
    const recipe = recipeOf(fileOf(frames));
    const { part, take } = await weave(frames, recipe);
    const plan = planRender(recipe, take, { weaves: { reel: part.weave } });
    const run = await startSteps(plan, sourceOf(frames));
    await run.read(framesOf(plan));
    const { rgba } = run.show(3);
    expect(rgba[(24 * SIZE.width + 90) * 4 + 3]).toBe(0);
    expect(rgba[(24 * SIZE.width + 30) * 4 + 3]).toBe(255);
  });

  it('stand still as a whole where nothing moves', async () => {
    const frames = Array.from({ length: 60 }, () => breathing(1, 24)[0]);
    const { part } = await weave(frames, recipeOf(fileOf(frames)));
    expect([part.moving, part.spread, Math.round(part.seam.score)]).toEqual([0, 0, 100]);
  });

  it('have their camera taken out where that is asked for', async () => {
    const still = breathing(1, 24)[0];
    // A texture that shakes by whole pixels and does nothing else.
    const shaken = Array.from({ length: 60 }, (_, t) => {
      const frame = createFrame(SIZE.width, SIZE.height);
      const by = [0, 1, 0, -1, 1, 0, -1][t % 7];
      for (let y = 0; y < SIZE.height; y++) {
        for (let x = 0; x < SIZE.width; x++) {
          const from = Math.max(0, Math.min(SIZE.width - 1, x + by));
          const at = (y * SIZE.width + from) * 4;
          frame.rgba.set(still.rgba.subarray(at, at + 4), (y * SIZE.width + x) * 4);
        }
      }
      return frame;
    });
    const recipe = recipeOf(fileOf(shaken), woven({ steady: false }));
    const { part: left } = await weave(shaken, recipe);
    const { part: taken } = await weave(shaken, recipeOf(fileOf(shaken), woven({ steady: true })));
    expect(taken.moving).toBeLessThan(0.5 * Math.max(0.1, left.moving));
  });
});
