import { describe, expect, it } from 'vitest';
import { createFrame, type PixelFrame } from '../../pixels/index.js';
import {
  changeWeigh,
  newRecipe,
  newStillsRecipe,
  type Recipe,
  type SourceFile,
  takeOf,
} from '../../recipe/index.js';
import { createMask, type Mask, type Ripple } from '../../still/index.js';
import { seeded, wholeFrom } from '../../testing/seeded.js';
import { type FrameSource, framesOf, NOTHING_KEPT, planRender, startSteps, stepsKey } from '../index.js';

const SIZE = { width: 48, height: 32 };
const HASH = 'a'.repeat(64);
const MASK = 'b'.repeat(64);
const FRAMES = 20;
const times = { starts: Array.from({ length: FRAMES }, (_, i) => i / 10), duration: FRAMES / 10 };
const footage: SourceFile = { hash: HASH, size: SIZE, times };

/** Plain ground whose level tells the frame. */
function flat(level: number, { width, height } = SIZE): PixelFrame {
  const rgba = new Uint8Array(width * height * 4).fill(255);
  for (let i = 0; i < rgba.length; i += 4) rgba.fill(level, i, i + 3);
  return createFrame(width, height, rgba);
}

/** Moves on the left. */
const leftMoves = createMask(
  48,
  32,
  Uint8Array.from({ length: 48 * 32 }, (_, p) => (p % 48 < 24 ? 255 : 0)),
);

/** Tells which frames were asked for. */
function source(paint: Mask = leftMoves, levelOf = (frame: number) => frame * 10) {
  const asked: number[] = [];
  const frames: FrameSource = {
    sizeOf: (_, best) => best,
    async *read(_, wanted, size) {
      for (const frame of wanted) {
        asked.push(frame);
        yield { frame, picture: flat(levelOf(frame), size) };
      }
    },
    ...NOTHING_KEPT,
    mask: async () => paint,
    picture: async () => flat(200),
  };
  return { frames, asked };
}

const ripple: Ripple = {
  ...{ id: 'one', name: 'one', mask: MASK, outlines: [], grow: 0, feather: 0, invert: false },
  ...{ shown: true, loop: null },
};

function recipeWith(edit: (recipe: Recipe) => Recipe): Recipe {
  const base = newRecipe(HASH, times);
  const plain = { ...base, span: { start: 4, end: 10 }, weigh: { ...base.weigh, width: 48 } };
  return edit({ ...plain, weigh: { ...plain.weigh, frameRate: 10 } });
}
const held = (part: Partial<Recipe['still']> = {}) =>
  recipeWith((recipe) => ({
    ...recipe,
    still: {
      plate: { kind: 'frame', frame: 2 },
      ripples: [ripple],
      steady: false,
      evenLight: false,
      ...part,
    },
  }));
const planOf = (recipe: Recipe) => planRender(recipe, takeOf(recipe, [footage]));

async function shown(recipe: Recipe, { frames } = source()): Promise<PixelFrame[]> {
  const plan = planOf(recipe);
  const run = await startSteps(plan, frames);
  await run.read(framesOf(plan));
  return plan.reel.map((_, place) => run.show(place));
}
const levelAt = ({ rgba, width }: PixelFrame, x: number, y: number) => rgba[(y * width + x) * 4];

describe('the steps', () => {
  it('show each frame of the reel, mixed where the crossfade says so', async () => {
    const crossfade = recipeWith((recipe) => ({
      ...recipe,
      loop: { ...recipe.loop, join: { kind: 'crossfade', frames: 1 } },
    }));
    const levels = (await shown(crossfade)).map((frame) => levelAt(frame, 20, 20));
    // The last is half of frame 9 and half of frame 3.
    expect(levels).toEqual([40, 50, 60, 70, 80, 60]);
  });

  it('hold all that does not move at the plate, to the byte, also a retouched one', async () => {
    for (const [plate, level] of [
      [{ kind: 'frame', frame: 2 }, 20],
      [{ kind: 'picture', frame: 2, hash: 'c'.repeat(64) }, 200],
    ] as const) {
      const frames = await shown(held({ plate }));
      expect(frames.map((frame) => levelAt(frame, 10, 10))).toEqual([40, 50, 60, 70, 80, 90]);
      expect(new Set(frames.map((frame) => levelAt(frame, 40, 10)))).toEqual(new Set([level]));
    }
  });

  it('ask for each frame once, the plate first known, and again only for what was let go', async () => {
    const { frames, asked } = source();
    const plan = planOf(held());
    const run = await startSteps(plan, frames);
    await run.read([5]);
    await run.read([5, 6]);
    expect(asked).toEqual([2, 5, 6]);
    run.forget([5, 2]);
    await run.read([5, 2]);
    expect(asked).toEqual([2, 5, 6, 5]);
  });

  it('say which frame is not there rather than show another', async () => {
    const run = await startSteps(planOf(held()), source().frames);
    await run.read([4]);
    expect(run.show(0)).toBeDefined();
    expect(() => run.show(1)).toThrow('Frame 5 of the take');
  });

  it('even the light and tell by how much it was off', async () => {
    const recipe = held({ evenLight: true });
    const plan = planOf(recipe);
    const run = await startSteps(plan, source(leftMoves, (frame) => 100 + frame).frames);
    await run.read(framesOf(plan));
    expect(levelAt(run.show(3), 10, 10)).toBe(102);
    expect(run.figures().light).toEqual({ before: 7, after: 0 });
  });

  it('taken frame by frame are what they are taken all at once (8 seeds)', async () => {
    for (let seed = 1; seed <= 8; seed++) {
      const random = seeded(seed);
      const paint = createMask(
        48,
        32,
        Uint8Array.from({ length: 48 * 32 }, () => wholeFrom(random, 0, 255)),
      );
      const recipe = held({ evenLight: seed % 2 === 0 });
      const all = await shown(recipe, source(paint));
      const plan = planOf(recipe);
      const run = await startSteps(plan, source(paint).frames);
      for (const place of [3, 0, 5, 3]) {
        const { source: frame } = plan.reel[place];
        await run.read([frame]);
        expect(run.show(place).rgba, `seed ${seed}, place ${place}`).toEqual(all[place].rgba);
        run.forget([frame]);
      }
    }
  });

  it('lay stills of several shapes each in its own way', async () => {
    const files: SourceFile[] = [
      { hash: 'd'.repeat(64), size: { width: 40, height: 40 }, times: { starts: [0], duration: 1 } },
      { hash: 'e'.repeat(64), size: { width: 80, height: 20 }, times: { starts: [0], duration: 1 } },
    ];
    const base = newStillsRecipe(files);
    const recipe: Recipe = {
      ...base,
      sources: [{ ...(base.sources[0] as object), canvas: { width: 40, height: 40 } } as never],
      weigh: { ...base.weigh, width: 40 },
    };
    const plan = planRender(recipe, takeOf(recipe, files));
    const run = await startSteps(plan, source(leftMoves, () => 90).frames);
    await run.read(framesOf(plan));
    const [first, second] = [run.show(0), run.show(1)];
    expect([levelAt(first, 20, 2), levelAt(second, 20, 2), levelAt(second, 20, 20)]).toEqual([90, 255, 90]);
  });
});

describe('what a result is kept under', () => {
  const keyOf = (recipe: Recipe) => stepsKey(planOf(recipe));
  const base = held({ evenLight: true });
  const withRipple = (part: Partial<Ripple>) => ({
    ...base,
    still: { ...base.still, ripples: [{ ...ripple, ...part }] },
  });

  const OTHERS: Record<string, Recipe> = {
    'the span': { ...base, span: { start: 5, end: 10 } },
    'the plate': held({ evenLight: true, plate: { kind: 'frame', frame: 3 } }),
    'a retouched plate': held({ evenLight: true, plate: { kind: 'picture', frame: 2, hash: MASK } }),
    steady: held({ evenLight: true, steady: true }),
    'even light': held(),
    'nothing held': { ...base, still: { ...base.still, plate: null } },
    'the paint': withRipple({ mask: HASH }),
    'the feather': withRipple({ feather: 3 }),
    'the reach': withRipple({ grow: 3 }),
    'inside out': withRipple({ invert: true }),
    hidden: withRipple({ shown: false }),
    'an outline': withRipple({
      outlines: [{ points: [0, 1, 2].map((x) => ({ x: x / 3, y: (x * x) / 9, smooth: false })), adds: true }],
    }),
    'a round of its own': withRipple({
      loop: { span: { start: 1, end: 6 }, join: { kind: 'cut' }, rounds: 1 },
    }),
    'the crop': { ...base, framing: { ...base.framing, crop: { x: 0, y: 0, width: 30, height: 20 } } },
    'the turn': { ...base, framing: { ...base.framing, turn: 180 } },
    'a mirror': { ...base, framing: { ...base.framing, mirror: true } },
    'a box': {
      ...base,
      framing: { ...base.framing, box: { width: 40, height: 40, fit: 'contain', matte: '#000000' } },
    },
    'the width': { ...base, weigh: { ...base.weigh, width: 40 } },
    'the rate': { ...base, weigh: { ...base.weigh, frameRate: 5 } },
    'the crossfade': { ...base, loop: { ...base.loop, join: { kind: 'crossfade', frames: 2 } } },
    backwards: { ...base, loop: { ...base.loop, reverse: true } },
  };

  it('differs wherever frames would', () => {
    const keys = new Map<string, string>([[keyOf(base), 'nothing']]);
    for (const [name, recipe] of Object.entries(OTHERS)) {
      const key = keyOf(recipe);
      expect(keys.get(key), `${name} has the key of another recipe`).toBeUndefined();
      keys.set(key, name);
    }
  });

  it('is the same for what frames do not depend on', () => {
    const same: Recipe[] = [
      withRipple({ name: 'renamed', id: 'two' }),
      { ...base, weigh: changeWeigh(base.weigh, { gif: { colors: 16, dither: 'none', settle: 9 } }) },
      { ...base, plays: 3 },
    ];
    for (const recipe of same) expect(keyOf(recipe)).toBe(keyOf(base));
  });

  it('tells two files of the same shape apart', () => {
    const other = { ...base, sources: [{ kind: 'footage', hash: MASK, every: 1 } as const] };
    expect(stepsKey(planRender(other, takeOf(other, [{ ...footage, hash: MASK }])))).not.toBe(keyOf(base));
  });
});
