import { describe, expect, it } from 'vitest';
import { OWN_COLOURS } from '../../colour/index.js';
import {
  CAPTION_STARTS,
  type DressSettings,
  type Emblem,
  newCaption,
  UNDRESSED,
  type Veil,
} from '../../dress/index.js';
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
import {
  composedKey,
  type FrameSource,
  framesAt,
  framesOf,
  NOTHING_KEPT,
  planRender,
  startSteps,
} from '../index.js';

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

  it('show pictures between frames of a slowed reel, as the ripples do, and ask for the frames they are made of', async () => {
    const slowed = (recipe: Recipe) => ({ ...recipe, loop: { ...recipe.loop, speed: 0.5, smooth: true } });
    const { frames, asked } = source();
    // Nothing leads from one even ground to another: both are mixed. The last is on its way to the first.
    const levels = [40, 45, 50, 55, 60, 65, 70, 75, 80, 85, 90, 65];
    const whole = await shown(slowed(recipeWith((recipe) => recipe)), { frames, asked });
    expect(whole.map((frame) => levelAt(frame, 20, 20))).toEqual(levels);
    expect(asked).toEqual([4, 5, 6, 7, 8, 9]);
    const own = { span: { start: 4, end: 10 }, join: { kind: 'cut' as const }, rounds: 1 };
    for (const loop of [null, own]) {
      const rippled = await shown(slowed(held({ ripples: [{ ...ripple, loop }] })));
      expect(rippled.map((frame) => levelAt(frame, 10, 10))).toEqual(levels);
      expect(new Set(rippled.map((frame) => levelAt(frame, 40, 10)))).toEqual(new Set([20]));
    }
  });

  it('mix pictures that are made in between where a slowed reel is crossfaded', async () => {
    const crossfade = recipeWith((recipe) => ({
      ...recipe,
      loop: { ...recipe.loop, speed: 0.5, smooth: true, join: { kind: 'crossfade', frames: 3 } },
    }));
    const levels = (await shown(crossfade)).map((frame) => levelAt(frame, 20, 20));
    // 85 with 25, 90 with 30 and 95 with 35: a quarter, half and three quarters.
    expect(levels).toEqual([40, 45, 50, 55, 60, 65, 70, 75, 80, 70, 60, 50]);
  });

  it('lead a thing from where the loop ends to where it starts, whatever else the reel shows', async () => {
    const size = { width: 96, height: 64 };
    // A patterned square over a dark ground, two pixels on with each frame.
    const picture = (frame: number) => {
      const { rgba } = flat(30, size);
      for (let y = 22; y < 42; y++) {
        for (let x = 0; x < 20; x++) {
          const level = 150 + 70 * Math.sin(x / 2) * Math.cos(y / 2.5);
          rgba.fill(
            level,
            4 * (y * size.width + 10 + 2 * frame + x),
            4 * (y * size.width + 10 + 2 * frame + x) + 3,
          );
        }
      }
      return createFrame(size.width, size.height, rgba);
    };
    const { frames, asked } = source();
    const moving: FrameSource = {
      ...frames,
      async *read(_, wanted) {
        for (const frame of wanted) {
          asked.push(frame);
          yield { frame, picture: picture(frame) };
        }
      },
    };
    const flowing = recipeWith((recipe) => ({
      ...recipe,
      span: { start: 8, end: 16 },
      loop: { ...recipe.loop, join: { kind: 'flowed', frames: 4 } },
      weigh: { ...recipe.weigh, width: size.width },
    }));
    const plan = planRender(flowing, takeOf(flowing, [{ ...footage, size }]));
    const run = await startSteps(plan, moving);
    // A place of the joint needs all of the joint, and no more.
    expect(framesAt(plan, 5)).toEqual([4, 5, 6, 7, 12, 13, 14, 15]);
    await run.read(framesAt(plan, 5));
    const left = (frame: PixelFrame) => {
      const row = Array.from({ length: size.width }, (_, x) => levelAt(frame, x, 30));
      return [row.findIndex((level) => level > 60), row.findLastIndex((level) => level > 60)];
    };
    // From where frame 13 has it to where frame 5 has it: half way, and not twice.
    const [from, to] = left(run.show(5));
    expect(to - from).toBeLessThan(26);
    expect(from).toBeGreaterThan(10 + 2 * 5 + 1);
    expect(from).toBeLessThan(10 + 2 * 13 - 1);
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

  it('tell of each frame while the others are still being read, and it can be shown then', async () => {
    const { frames, asked } = source();
    const plan = planOf(recipeWith((recipe) => recipe));
    const run = await startSteps(plan, frames);
    const told: { frame: number; asked: number; level: number }[] = [];
    await run.read(framesOf(plan), undefined, (frame) => {
      const level = levelAt(run.show(frame - plan.reel[0].source), 20, 20);
      told.push({ frame, asked: asked.length, level });
    });
    // The source is asked for the next frame only once this one is done with.
    expect(told).toEqual(framesOf(plan).map((frame, i) => ({ frame, asked: i + 1, level: frame * 10 })));
  });

  it('tell of none early where what is held must be known first', async () => {
    const { frames } = source();
    const plan = planOf(held());
    const run = await startSteps(plan, frames);
    const told: number[] = [];
    await run.read(framesOf(plan), undefined, (frame) => told.push(frame));
    expect(told).toEqual([]);
    expect(levelAt(run.show(0), 40, 10)).toBe(20);
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

/** Hides the left half of every frame. */
const VEIL: Veil = {
  ...{ id: 'v', name: 'v', shape: 'rectangle', mask: null, effect: 'plain', strength: 50, colour: '#00ff00' },
  ...{
    feather: 0,
    keys: [{ frame: 0, x: 0, y: 0, width: 0.5, height: 1, by: 'hand' }],
    span: null,
    shown: true,
  },
};

describe('the dress', () => {
  const dressOf = (recipe: Recipe, part: Partial<DressSettings>): Recipe => ({
    ...recipe,
    dress: { ...UNDRESSED, ...part },
  });
  const rgbAt = ({ rgba, width }: PixelFrame, x: number, y: number) => [
    ...rgba.subarray((y * width + x) * 4, (y * width + x) * 4 + 3),
  ];

  it('colours all of it, or only what is held, or only what moves', async () => {
    const colour = { ...OWN_COLOURS, look: { id: 'tea-stain', strength: 100 } } as const;
    const seen = async (part: DressSettings['colour']['part']) => {
      const [frame] = await shown(dressOf(held(), { colour: { ...colour, part } }));
      const isGrey = (x: number) => new Set(rgbAt(frame, x, 10)).size === 1;
      return { moving: isGrey(10), held: isGrey(40) };
    };
    expect(await seen('everywhere')).toEqual({ moving: false, held: false });
    expect(await seen('held')).toEqual({ moving: true, held: false });
    expect(await seen('moving')).toEqual({ moving: false, held: true });
  });

  it('keeps what is held the same in every frame', async () => {
    const colour = { ...OWN_COLOURS, sharpness: 40, look: { id: 'dusk-water', strength: 70 } } as const;
    const frames = await shown(dressOf(held(), { colour }));
    expect(new Set(frames.map((frame) => rgbAt(frame, 40, 10).join())).size).toBe(1);
  });

  it('hides in every frame, in mixtures of two, and on the plate, retouched or not', async () => {
    const isHidden = (frames: readonly PixelFrame[]) =>
      frames.every((frame) => rgbAt(frame, 5, 5).join() === '0,255,0' && rgbAt(frame, 44, 5)[1] !== 255);
    const crossfade = recipeWith((recipe) => ({
      ...recipe,
      loop: { ...recipe.loop, join: { kind: 'crossfade', frames: 2 } },
    }));
    expect(isHidden(await shown(dressOf(crossfade, { veils: [VEIL] })))).toBe(true);
    for (const plate of [
      { kind: 'frame', frame: 2 },
      { kind: 'picture', frame: 2, hash: 'c'.repeat(64) },
    ] as const) {
      // Nothing moves: all that is seen is the plate.
      const frozen = held({ plate, ripples: [{ ...ripple, invert: true, mask: null, grow: -200 }] });
      expect(isHidden(await shown(dressOf(frozen, { veils: [VEIL] })))).toBe(true);
      expect(isHidden(await shown(dressOf(held({ plate }), { veils: [VEIL] })))).toBe(true);
      const steady = held({ plate, steady: true, evenLight: true });
      const frames = await shown(dressOf(steady, { veils: [VEIL] }));
      expect(frames.every((frame) => rgbAt(frame, 5, 5)[0] < 60)).toBe(true);
    }
  });

  it('hides where a veil lies at each frame, also where two frames of a take are one picture', async () => {
    const picture: SourceFile = { hash: HASH, size: SIZE, times: { starts: [0], duration: 1 } };
    const stills = newStillsRecipe([picture, picture]);
    const moving: Veil = {
      ...VEIL,
      keys: [VEIL.keys[0], { ...VEIL.keys[0], frame: 1, x: 0.5 }],
    };
    const recipe = dressOf({ ...stills, weigh: { ...stills.weigh, width: 48 } }, { veils: [moving] });
    const plan = planRender(recipe, takeOf(recipe, [picture]));
    const run = await startSteps(plan, source(leftMoves, () => 90).frames);
    await run.read(framesOf(plan));
    const [one, other] = [run.show(0), run.show(1)];
    expect([rgbAt(one, 5, 5)[1], rgbAt(one, 40, 5)[1]]).toEqual([255, 90]);
    expect([rgbAt(other, 5, 5)[1], rgbAt(other, 40, 5)[1]]).toEqual([90, 255]);
  });

  /** An engine whose letters are a red square. */
  const engine = {
    faces: async () => [{ id: 'clear-sans', family: 'F', runs: [0x20, 0x7e] }],
    bounds: async () => ({ x: -4, y: -4, width: 8, height: 8 }),
    draw: async () => {
      const square = createFrame(8, 8);
      for (let i = 0; i < square.rgba.length; i += 4) square.rgba.set([255, 0, 0, 255], i);
      return square;
    },
  };

  it('lays words over the places of their time, over colour and under the border', async () => {
    const caption = { ...newCaption(CAPTION_STARTS.below, 'c'), text: 'Tea', time: { fromCs: 20, toCs: 40 } };
    const recipe = dressOf(
      recipeWith((one) => one),
      {
        captions: [caption],
        border: { width: 1, colour: '#0000ff' },
        colour: { ...OWN_COLOURS, look: { id: 'wet-slate', strength: 100 } },
      },
    );
    const plan = planOf(recipe);
    const run = await startSteps(plan, { ...source().frames, engine });
    await run.read(framesOf(plan));
    const isRed = plan.reel.map((_, place) => {
      const { rgba } = run.show(place);
      let count = 0;
      for (let i = 0; i < rgba.length; i += 4) if (rgba[i] === 255 && rgba[i + 1] === 0) count++;
      return count > 0;
    });
    // Six places of a tenth of a second.
    expect(isRed).toEqual([false, false, true, true, false, false]);
    for (const place of plan.reel.keys()) expect(rgbAt(run.show(place), 0, 15)).toEqual([0, 0, 255]);
    expect(run.overlays().map(({ id }) => id)).toEqual(['c']);
  });

  it('draws words without what has no shape, whoever wrote the recipe', async () => {
    const drawn: string[] = [];
    const listening = {
      ...engine,
      draw: (svg: string) => {
        drawn.push(svg);
        return engine.draw();
      },
    };
    const caption = { ...newCaption(CAPTION_STARTS.below, 'c'), text: 'Te\u0000a\u0007' };
    const plan = planOf(
      dressOf(
        recipeWith((one) => one),
        { captions: [caption] },
      ),
    );
    await startSteps(plan, { ...source().frames, engine: listening });
    expect(drawn).toHaveLength(1);
    expect(drawn[0]).toContain('>Tea</text>');
  });

  it('draws nothing for words that no font has', async () => {
    const caption = { ...newCaption(CAPTION_STARTS.below, 'c'), text: '你好' };
    const plan = planOf(
      dressOf(
        recipeWith((one) => one),
        { captions: [caption] },
      ),
    );
    const run = await startSteps(plan, { ...source().frames, engine });
    expect(run.overlays()).toEqual([]);
  });

  it('is changed without a frame being asked for again; another crop asks for all', async () => {
    const { frames, asked } = source();
    const first = planOf(held());
    const run = await startSteps(first, frames);
    await run.read(framesOf(first));
    const count = asked.length;
    const dressed = planOf(dressOf(held(), { border: { width: 2, colour: '#0000ff' } }));
    const next = await run.replan(dressed);
    await next.read(framesOf(dressed));
    expect(rgbAt(next.show(0), 0, 0)).toEqual([0, 0, 255]);
    expect(asked.length).toBe(count);
    const cropped = {
      ...held(),
      framing: { ...held().framing, crop: { x: 0, y: 0, width: 24, height: 32 } },
    };
    const plan = planOf({ ...cropped, weigh: { ...cropped.weigh, width: 24 } });
    const other = await next.replan(plan);
    await other.read(framesOf(plan));
    expect(asked.length).toBeGreaterThan(count);
    expect(other.show(0).width).toBe(24);
  });

  it('of a recipe whose veil has changed asks for frames again: what was hidden may be seen now', async () => {
    const { frames, asked } = source();
    const veiled = planOf(dressOf(held(), { veils: [VEIL] }));
    const run = await startSteps(veiled, frames);
    await run.read(framesOf(veiled));
    const count = asked.length;
    const bare = planOf(held());
    const next = await run.replan(bare);
    await next.read(framesOf(bare));
    expect(asked.length).toBe(2 * count);
    expect(levelAt(next.show(0), 5, 5)).toBe(40);
  });
});

describe('what a result is kept under', () => {
  const keyOf = (recipe: Recipe) => composedKey(planOf(recipe));
  const base = held({ evenLight: true });
  const withRipple = (part: Partial<Ripple>) => ({
    ...base,
    still: { ...base.still, ripples: [{ ...ripple, ...part }] },
  });

  const caption = newCaption(CAPTION_STARTS.below, 'c');
  const emblem: Emblem = {
    ...{ id: 'e', name: 'e', hash: HASH, anchor: 'top', margin: 1, width: 20, turn: 0, opacity: 100 },
    ...{ time: null, shown: true },
  };
  const dressed = (part: Partial<DressSettings>): Recipe => ({ ...base, dress: { ...UNDRESSED, ...part } });
  const coloured = (part: Partial<DressSettings['colour']>) =>
    dressed({ colour: { ...OWN_COLOURS, ...part } });
  const wet = { id: 'wet-slate', strength: 100 } as const;

  const OTHERS: Record<string, Recipe> = {
    'the exposure': coloured({ grade: { ...OWN_COLOURS.grade, exposure: 1 } }),
    'the sharpness': coloured({ sharpness: 20 }),
    'a look': coloured({ look: wet }),
    'its strength': coloured({ look: { ...wet, strength: 40 } }),
    'where it lies': coloured({ look: wet, part: 'held' }),
    'a table': coloured({ table: { hash: HASH, name: 't', strength: 100 } }),
    'another table': coloured({ table: { hash: MASK, name: 't', strength: 100 } }),
    'a caption': dressed({ captions: [caption] }),
    'its words': dressed({ captions: [{ ...caption, text: 'other' }] }),
    'its place': dressed({ captions: [{ ...caption, x: 0.2 }] }),
    'its size': dressed({ captions: [{ ...caption, style: { ...caption.style, size: 9 } }] }),
    'its font': dressed({ captions: [{ ...caption, style: { ...caption.style, font: HASH } }] }),
    'its time': dressed({ captions: [{ ...caption, time: { fromCs: 0, toCs: 20 } }] }),
    'its fade': dressed({ captions: [{ ...caption, time: { fromCs: 0, toCs: 20 }, fadeCs: 5 }] }),
    'two captions': dressed({ captions: [caption, { ...caption, text: 'other' }] }),
    'their order': dressed({ captions: [{ ...caption, text: 'other' }, caption] }),
    'an emblem': dressed({ emblems: [emblem] }),
    'another emblem': dressed({ emblems: [{ ...emblem, hash: MASK }] }),
    'its turn': dressed({ emblems: [{ ...emblem, turn: 5 }] }),
    'a border': dressed({ border: { width: 2, colour: '#000000' } }),
    'its colour': dressed({ border: { width: 2, colour: '#000001' } }),
    corners: dressed({ corners: { radius: 2, fill: 'transparent' } }),
    'a veil': dressed({ veils: [VEIL] }),
    'a veil’s effect': dressed({ veils: [{ ...VEIL, effect: 'blur' }] }),
    'a veil’s key': dressed({ veils: [{ ...VEIL, keys: [{ ...VEIL.keys[0], x: 0.3 }] }] }),
    'a veil’s frames': dressed({ veils: [{ ...VEIL, span: { start: 5, end: 6 } }] }),
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
      dressed({ captions: [{ ...caption, shown: false }], veils: [{ ...VEIL, shown: false }] }),
    ];
    for (const recipe of same) expect(keyOf(recipe)).toBe(keyOf(base));
  });

  it('tells two files of the same shape apart', () => {
    const other = { ...base, sources: [{ kind: 'footage', hash: MASK, every: 1 } as const] };
    expect(composedKey(planRender(other, takeOf(other, [{ ...footage, hash: MASK }])))).not.toBe(keyOf(base));
  });
});
