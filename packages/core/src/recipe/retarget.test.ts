import { describe, expect, it } from 'vitest';
import { UNDRESSED, type Veil } from '../dress/index.js';
import { joinOf, refOf, type Woven } from '../loop/index.js';
import type { Ripple } from '../still/index.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { WHOLE_PICTURE } from './framing.js';
import { newRecipe, newStillsRecipe, type Recipe, retarget, type SourceFile } from './index.js';

const timesOf = (frames: number, rate: number) => ({
  starts: Array.from({ length: frames }, (_, i) => i / rate),
  duration: frames / rate,
});
const old: SourceFile = { hash: 'a'.repeat(64), size: { width: 640, height: 360 }, times: timesOf(300, 30) };
const better: SourceFile = {
  ...{ hash: 'b'.repeat(64), size: { width: 1280, height: 720 } },
  times: timesOf(600, 60),
};
const square: SourceFile = { ...better, hash: 'c'.repeat(64), size: { width: 600, height: 600 } };
const base = newRecipe(old.hash, old.times);
const RIPPLE: Ripple = {
  ...{ id: 'a', name: 'Light', mask: 'd'.repeat(64), outlines: [], grow: 0, feather: 6, invert: false },
  ...{ shown: true, loop: null },
};
const edited: Recipe['loop'] = {
  ...base.loop,
  edits: [{ kind: 'delay', frames: [refOf({ source: 4, copy: 0, reach: 1 } as never)], delayCs: 40 }],
};

/** The recipe over another file than its own. */
const over = (recipe: Recipe, file: SourceFile) =>
  retarget(
    { recipe, files: [old] },
    { recipe: { ...recipe, sources: [{ kind: 'footage', hash: file.hash, every: 1 }] }, files: [file] },
  );

describe('settings laid over another file', () => {
  it('keep their seconds and the part of the picture', () => {
    const crop = { x: 100, y: 50, width: 200, height: 200 };
    const recipe = { ...base, span: { start: 30, end: 75 }, framing: { ...WHOLE_PICTURE, crop } };
    const { recipe: laid, notes } = over(recipe, better);
    expect(laid.span).toEqual({ start: 60, end: 150 });
    expect(laid.framing.crop).toEqual({ x: 200, y: 100, width: 400, height: 400 });
    expect(laid.sources).toEqual([{ kind: 'footage', hash: better.hash, every: 1 }]);
    expect(laid.weigh).toEqual(recipe.weigh);
    expect(notes).toEqual([
      { kind: 'scaled', words: 'The crop lies on the same part of the picture, now 400 × 400 px.' },
    ]);
  });

  it('keep what is held, its paint and each ripple’s own round', () => {
    const loop = { span: { start: 30, end: 60 }, join: { kind: 'cut' as const }, rounds: 2 };
    const plate = { kind: 'picture' as const, frame: 45, hash: 'e'.repeat(64) };
    const still = { ...base.still, plate, ripples: [{ ...RIPPLE, loop }, RIPPLE] };
    const { recipe, notes } = over({ ...base, still }, better);
    expect(recipe.still.plate).toEqual({ ...plate, frame: 90 });
    expect(recipe.still.ripples.map((ripple) => ripple.loop?.span)).toEqual([
      { start: 60, end: 120 },
      undefined,
    ]);
    expect(recipe.still.ripples.map((ripple) => ripple.mask)).toEqual([RIPPLE.mask, RIPPLE.mask]);
    expect(notes).toEqual([]);
  });

  it('keep a weave’s round and plate by their seconds, and what hands did only where the picture is alike', () => {
    const touch = { moves: false, points: [[0.2, 0.5]] as const, radius: null };
    const join = { ...(joinOf({ kind: 'per-pixel' }).over(60) as Woven), plate: 45, touches: [touch] };
    const recipe = { ...base, span: { start: 10, end: 200 }, loop: { ...base.loop, join } };
    const { recipe: laid, notes } = over(recipe, better);
    expect(laid.loop.join).toEqual({ ...join, frames: 120, plate: 90 });
    expect(notes).toEqual([]);
    const own = { span: { start: 0, end: 90 }, join, rounds: 1 };
    const held = {
      ...base.still,
      plate: { kind: 'frame' as const, frame: 3 },
      ripples: [{ ...RIPPLE, loop: own }],
    };
    const shaped = over({ ...recipe, still: held }, square);
    expect(shaped.recipe.loop.join).toMatchObject({ frames: 120, touches: [] });
    expect(shaped.recipe.still.ripples[0].loop?.join).toMatchObject({ touches: [] });
    expect(shaped.notes.filter(({ words }) => words.includes('by hand in the weave'))).toHaveLength(2);
    // A round is never longer than one can be.
    const long = { ...recipe, loop: { ...base.loop, join: { ...join, frames: 290 } } };
    const fast = { ...better, times: timesOf(2400, 240) };
    expect(over(long, fast).recipe.loop.join).toMatchObject({ frames: 600 });
  });

  it('leave out what belongs to another shape, and say so', () => {
    const plate = { kind: 'picture' as const, frame: 45, hash: 'e'.repeat(64) };
    const { recipe, notes } = over({ ...base, still: { ...base.still, plate, ripples: [RIPPLE] } }, square);
    expect(recipe.still.plate).toEqual({ kind: 'frame', frame: 90 });
    expect(recipe.still.ripples[0].mask).toBeNull();
    expect(notes.map(({ kind }) => kind)).toEqual(['dropped', 'dropped']);
    expect(notes.map(({ words }) => words).join(' ')).toContain('paint of a ripple');
  });

  it('leave out edits of single frames where the frames are others, and keep them where they are the same', () => {
    const { recipe, notes } = over({ ...base, loop: edited }, better);
    expect(recipe.loop.edits).toEqual([]);
    expect(notes[0].words).toContain('An edit of single frames was left out');
    const larger = { ...old, hash: 'f'.repeat(64), size: better.size };
    expect(over({ ...base, loop: edited }, larger).recipe.loop).toEqual(edited);
  });

  it('end where a shorter file ends; all of one is all of the other', () => {
    const short = { ...better, times: timesOf(3, 2) };
    const { recipe, notes } = over({ ...base, span: { start: 60, end: 200 } }, short);
    expect(recipe.span).toEqual({ start: 2, end: 3 });
    expect(notes[0].words).toContain('after 1.50 s');
    expect(over({ ...base, span: { start: 0, end: 300 } }, short).recipe.span).toEqual({ start: 0, end: 3 });
  });

  it('keep looks and words; veils lie at the same seconds, which is told, painted ones only on the same shape', () => {
    const veil: Veil = {
      ...{
        id: 'v',
        name: 'v',
        shape: 'ellipse',
        mask: null,
        effect: 'blur',
        strength: 50,
        colour: '#000000',
      },
      ...{ feather: 5, span: { start: 30, end: 60 }, shown: true },
      keys: [30, 31, 45].map((frame) => ({ frame, x: 0.1, y: 0.2, width: 0.3, height: 0.4, by: 'hand' })),
    };
    const painted: Veil = { ...veil, id: 'p', shape: 'painted', mask: 'f'.repeat(64) };
    const dress = { ...UNDRESSED, border: { width: 3, colour: '#123456' }, veils: [veil, painted] };
    const { recipe, notes } = over({ ...base, dress }, better);
    expect(recipe.dress.border).toEqual(dress.border);
    expect(recipe.dress.veils[0].keys.map(({ frame }) => frame)).toEqual([60, 62, 90]);
    expect(recipe.dress.veils[0].span).toEqual({ start: 60, end: 120 });
    expect(notes.map(({ words }) => words)).toEqual([
      '2 veils lie where they hid something in other footage. Look whether they still do.',
    ]);
    const other = over({ ...base, dress }, square);
    expect(other.recipe.dress.veils.map(({ id }) => id)).toEqual(['v']);
    expect(other.notes.some(({ kind }) => kind === 'dropped')).toBe(true);
  });

  it('may be only some of them', () => {
    const light = { ...base, plays: 3, weigh: { ...base.weigh, width: 100 }, span: { start: 7, end: 9 } };
    const files = [old];
    const { recipe } = retarget({ recipe: light, files }, { recipe: base, files }, ['weigh']);
    expect(recipe).toEqual({ ...base, weigh: light.weigh });
  });

  it('are counted in the new file where their own is not known', () => {
    const crop = { x: 600, y: 300, width: 400, height: 400 };
    const recipe = { ...base, span: { start: 10, end: 700 }, framing: { ...WHOLE_PICTURE, crop } };
    const onto = {
      recipe: { ...recipe, sources: newRecipe(better.hash, better.times).sources },
      files: [better],
    };
    const { recipe: laid, notes } = retarget({ recipe, files: null }, onto);
    expect(laid.span).toEqual({ start: 10, end: 600 });
    expect(laid.framing.crop).toEqual(crop);
    expect(notes.map(({ words }) => words)).toEqual(['The span ends where the footage does, after 10.00 s.']);
  });

  it('of stills change one picture and nothing else', () => {
    const still = (letter: string): SourceFile => ({
      ...{ hash: letter.repeat(64), size: { width: 8, height: 8 } },
      times: { starts: [0], duration: 1 },
    });
    const [one, two, other] = [still('1'), still('2'), still('9')];
    const stills = newStillsRecipe([one, two]);
    const sources = newStillsRecipe([other, two]).sources;
    const { recipe, notes } = retarget(
      { recipe: stills, files: [one, two] },
      { recipe: { ...stills, sources }, files: [other, two] },
    );
    expect(recipe).toEqual({ ...stills, sources });
    expect(notes).toEqual([]);
  });

  it('always name frames and places that are there (60 seeds)', () => {
    for (let seed = 1; seed <= 60; seed++) {
      const random = seeded(seed);
      const frames = wholeFrom(random, 1, 400);
      const file: SourceFile = {
        hash: 'b'.repeat(64),
        size: { width: wholeFrom(random, 16, 2000), height: wholeFrom(random, 16, 2000) },
        times: timesOf(frames, 1 + random() * 60),
      };
      const start = wholeFrom(random, 0, 298);
      const crop = { x: wholeFrom(random, 0, 600), y: wholeFrom(random, 0, 320), width: 40, height: 40 };
      const recipe: Recipe = {
        ...base,
        span: { start, end: wholeFrom(random, start + 1, 300) },
        framing: { ...WHOLE_PICTURE, crop },
        still: { ...base.still, plate: { kind: 'frame', frame: wholeFrom(random, 0, 299) } },
      };
      const laid = over(recipe, file).recipe;
      const told = `seed ${seed}`;
      expect(laid.span.start, told).toBeGreaterThanOrEqual(0);
      expect(laid.span.end, told).toBeGreaterThan(laid.span.start);
      expect(laid.span.end, told).toBeLessThanOrEqual(frames);
      expect(laid.still.plate?.frame, told).toBeLessThan(frames);
      const { x, y, width, height } = laid.framing.crop as NonNullable<Recipe['framing']['crop']>;
      expect(Math.min(x, y, width - 1, height - 1), told).toBeGreaterThanOrEqual(0);
      expect(x + width, told).toBeLessThanOrEqual(file.size.width);
      expect(y + height, told).toBeLessThanOrEqual(file.size.height);
    }
  });
});
