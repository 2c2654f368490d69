import { describe, expect, it } from 'vitest';
import { CAPTION_STARTS, newCaption, UNDRESSED, type Veil } from '../dress/index.js';
import type { Ripple } from '../still/index.js';
import { WHOLE_PICTURE } from './framing.js';
import {
  canvasFor,
  framedSize,
  newAnimationRecipe,
  newRecipe,
  newStillsRecipe,
  RECIPE_VERSION,
  readRecipe,
  type SourceFile,
  seenPart,
  sourceHashes,
  takeOf,
} from './index.js';

const HASH = 'a'.repeat(64);
const times = { starts: Array.from({ length: 300 }, (_, i) => i / 30), duration: 10 };
const good = newRecipe(HASH, times);

const VEIL: Veil = {
  ...{ id: 'v', name: 'v', shape: 'ellipse', mask: null, effect: 'blur', strength: 50, colour: '#000000' },
  ...{ feather: 5, span: null, shown: true },
  keys: [{ frame: 3, x: 0, y: 0, width: 0.5, height: 0.5, by: 'hand' }],
};
const RIPPLE: Ripple = {
  ...{ id: 'a', name: 'Light', mask: null, outlines: [], grow: 0, feather: 6, invert: false, shown: true },
  loop: null,
};

describe('a recipe', () => {
  it('begins as three seconds of the footage, or all of it when it is shorter', () => {
    expect(good.span).toEqual({ start: 0, end: 90 });
    expect(newRecipe(HASH, { starts: [0, 0.5, 1], duration: 1.5 }).span).toEqual({ start: 0, end: 3 });
  });

  it('is read back from JSON as it was', () => {
    expect(readRecipe(JSON.parse(JSON.stringify(good)))).toEqual({ type: 'ok', recipe: good });
  });

  it('of a later version is told of kindly', () => {
    const reading = readRecipe({ ...good, version: RECIPE_VERSION + 1 });
    expect(reading).toMatchObject({ type: 'error', reason: 'too-new' });
  });

  it.each([
    ['nothing', null],
    ['a number', 7],
    ['no version', {}],
    ['a version that is none', { version: 'one' }],
  ])('is not %s', (_, stored) => {
    expect(readRecipe(stored)).toMatchObject({ type: 'error', reason: 'not-a-recipe' });
  });

  it('with what it cannot have is refused by name, all at once', () => {
    const reading = readRecipe({
      ...good,
      span: { start: 5, end: 5 },
      weigh: { ...good.weigh, gif: { ...good.weigh.gif, colors: 300, dither: 'sparkle' } },
      surprise: 1,
    });
    expect(reading).toMatchObject({ type: 'error', reason: 'invalid' });
    const { message } = reading as { message: string };
    for (const word of ['span.end', 'colors', 'dither', 'surprise']) expect(message).toContain(word);
  });
});

const still = (letter: string, width: number, height: number): SourceFile => ({
  hash: letter.repeat(64),
  size: { width, height },
  times: { starts: [0], duration: 1 },
});

describe('a recipe over an animation', () => {
  it('takes all of it, at its own pace, as often as it says', () => {
    const recipe = newAnimationRecipe(HASH, { starts: [0, 0.1, 4], duration: 9 }, 3);
    expect(recipe).toMatchObject({ span: { start: 0, end: 3 }, plays: 3, weigh: { frameRate: 'source' } });
    expect(readRecipe(recipe)).toEqual({ type: 'ok', recipe });
  });
});

describe('a recipe over stills', () => {
  const pictures = [still('1', 400, 300), still('2', 300, 600), still('3', 10, 10)];
  const recipe = newStillsRecipe(pictures);

  it('lies on a canvas of the largest picture’s size, and is read back', () => {
    expect(recipe.sources[0]).toMatchObject({ canvas: { width: 300, height: 600 } });
    expect(canvasFor([{ width: 6000, height: 3000 }])).toEqual({ width: 1920, height: 960 });
    expect(readRecipe(JSON.parse(JSON.stringify(recipe)))).toEqual({ type: 'ok', recipe });
    expect(sourceHashes(recipe)).toEqual(pictures.map((picture) => picture.hash));
  });

  it('is a take of one frame a picture, each in its place and for its time', () => {
    const take = takeOf(recipe, pictures);
    expect(take.size).toEqual({ width: 300, height: 600 });
    expect(take.times).toEqual({ starts: [0, 2, 4], duration: 6 });
    expect(take.frame(0)).toMatchObject({
      file: pictures[0],
      frame: 0,
      placement: { x: 0, y: 187.5, width: 300, height: 225 },
    });
    expect(take.frame(1).placement).toEqual({ x: 0, y: 0, width: 300, height: 600 });
    expect(() => takeOf(recipe, pictures.slice(1))).toThrow('11111111 of this recipe is not here');
  });

  it('refuses what cannot be, by name', () => {
    const wrong = { ...recipe, sources: [{ ...recipe.sources[0], matte: 'red', delayCs: 0, fit: 'squash' }] };
    const reading = readRecipe(wrong) as { message: string };
    for (const word of ['matte', 'delayCs', 'fit']) expect(reading.message).toContain(word);
  });
});

describe('a recipe of version 1', () => {
  it('sees the whole picture and every frame', () => {
    const { framing: _, ...old } = good;
    const stored = { ...old, weigh: ONE_KIND, version: 1, sources: [{ kind: 'footage', hash: HASH }] };
    expect(readRecipe(stored)).toEqual({ type: 'ok', recipe: good });
  });
});

describe('framing', () => {
  const picture = { width: 640, height: 360 };
  it('has the size of the crop as it stands after the turn, or that of the box', () => {
    const crop = { x: 10, y: 20, width: 200, height: 100 };
    expect(framedSize(picture, WHOLE_PICTURE)).toEqual(picture);
    expect(framedSize(picture, { ...WHOLE_PICTURE, crop, turn: 270 })).toEqual({ width: 100, height: 200 });
    const box = { width: 50, height: 60, fit: 'contain', matte: '#000000' } as const;
    expect(framedSize(picture, { ...WHOLE_PICTURE, crop, box })).toEqual({ width: 50, height: 60 });
  });

  it('under a covering box shows the middle, in the box’s shape as it stands before the turn', () => {
    const box = { width: 100, height: 50, fit: 'cover', matte: '#000000' } as const;
    expect(seenPart(picture, { ...WHOLE_PICTURE, box })).toEqual({ x: 0, y: 20, width: 640, height: 320 });
    expect(seenPart(picture, { ...WHOLE_PICTURE, box, turn: 90 })).toEqual({
      x: 230,
      y: 0,
      width: 180,
      height: 360,
    });
  });
});

/** The weigh settings as they stood when there was one kind of file. */
const { width, frameRate, matte, gif } = good.weigh;
const ONE_KIND = { width, frameRate, matte, ...gif };

describe('a recipe of version 9', () => {
  it('is read as one whose reel shows frames of the take only', () => {
    const { smooth: _, ...loop } = good.loop;
    const reading = readRecipe({ ...good, loop, version: 9 });
    expect(reading).toEqual({ type: 'ok', recipe: { ...good, loop: { ...loop, smooth: false } } });
  });

  it('whose loop is not one is told, and nothing breaks', () => {
    for (const loop of [null, 3, 'x', [], undefined]) {
      expect(readRecipe({ ...good, loop, version: 9 })).toMatchObject({ type: 'error', reason: 'invalid' });
    }
  });
});

describe('a recipe of version 8', () => {
  it('is read as one that is not dressed', () => {
    const { dress: _, ...undressed } = good;
    const reading = readRecipe({ ...undressed, version: 8 });
    expect(reading).toEqual({ type: 'ok', recipe: { ...good, dress: UNDRESSED } });
  });
});

describe('the dress in a recipe', () => {
  const withDress = (part: object) => readRecipe({ ...good, dress: { ...UNDRESSED, ...part } });
  const caption = newCaption(CAPTION_STARTS.label, 'c');

  it('is read back as it was', () => {
    const dress = { ...UNDRESSED, captions: [caption], border: { width: 1, colour: '#000000' } };
    expect(withDress(dress)).toMatchObject({ type: 'ok', recipe: { dress } });
  });

  it.each<[string, object, string]>([
    ['a caption of too many letters', { captions: [{ ...caption, text: 'a'.repeat(501) }] }, 'text'],
    [
      'a caption that ends before it begins',
      { captions: [{ ...caption, time: { fromCs: 9, toCs: 9 } }] },
      'toCs',
    ],
    ['more captions than there may be', { captions: Array.from({ length: 201 }, () => caption) }, 'captions'],
    ['a font by a path', { captions: [{ ...caption, style: { ...caption.style, font: '../x' } }] }, 'font'],
    ['a colour with letters that are none', { border: { width: 1, colour: '#12345g' } }, 'colour'],
    ['a border of half a pixel', { border: { width: 0.5, colour: '#000000' } }, 'width'],
    ['an unknown look', { colour: { ...UNDRESSED.colour, look: { id: 'sparkle', strength: 1 } } }, 'look'],
    [
      'a table by a name',
      { colour: { ...UNDRESSED.colour, table: { hash: 'x', name: 'x', strength: 1 } } },
      'hash',
    ],
    ['a veil without a place', { veils: [{ ...VEIL, keys: [] }] }, 'keys'],
    ['a veil whose places go back', { veils: [{ ...VEIL, keys: [VEIL.keys[0], VEIL.keys[0]] }] }, 'order'],
    ['a painted veil without paint', { veils: [{ ...VEIL, shape: 'painted' }] }, 'mask'],
    ['something else', { sparkle: true }, 'sparkle'],
  ])('is refused with %s', (_, part, told) => {
    const reading = withDress(part);
    expect(reading.type).toBe('error');
    expect(reading.type === 'error' && reading.message).toContain(told);
  });
});

describe('a recipe of version 7', () => {
  it('is one for a GIF, with the settings that it had; other kinds have their defaults', () => {
    const weigh = { ...ONE_KIND, colors: 31, squeeze: 7, kept: ['#aa0000'] };
    const reading = readRecipe({ ...good, version: 7, weigh });
    expect(reading.type === 'ok' && reading.recipe.weigh).toEqual({
      ...good.weigh,
      kind: 'gif',
      gif: { ...gif, colors: 31, squeeze: 7, kept: ['#aa0000'] },
    });
  });

  it('that says nothing sensible of its weight is told so, not mended', () => {
    for (const weigh of [null, 7, {}, { ...ONE_KIND, colors: 'many' }]) {
      expect(readRecipe({ ...good, version: 7, weigh }).type).toBe('error');
    }
  });
});

describe('a recipe that was written before a kind of file was known', () => {
  it('has that kind’s defaults', () => {
    const { poster: _, ...weigh } = good.weigh;
    expect(readRecipe({ ...good, weigh })).toEqual({ type: 'ok', recipe: good });
  });
});

describe('a recipe of version 6', () => {
  it('has as many palettes as pay, and edges of their own colours', () => {
    const { palette: _, matte: __, ...weigh } = ONE_KIND;
    expect(readRecipe({ ...good, version: 6, weigh })).toEqual({ type: 'ok', recipe: good });
  });
});

describe('a recipe of version 5', () => {
  it('has no colour kept or dropped by hand', () => {
    const { kept: _, dropped: __, ...weigh } = ONE_KIND;
    expect(readRecipe({ ...good, version: 5, weigh })).toEqual({ type: 'ok', recipe: good });
  });
});
describe('a recipe of version 4', () => {
  it('has ripples that loop with the reel', () => {
    const { loop: _, ...old } = RIPPLE;
    const stored = { ...good, version: 4, weigh: ONE_KIND, still: { ...good.still, ripples: [old] } };
    expect(readRecipe(stored)).toEqual({
      type: 'ok',
      recipe: { ...good, still: { ...good.still, ripples: [RIPPLE] } },
    });
  });
});
