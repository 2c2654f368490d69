import { describe, expect, it } from 'vitest';
import { CAPTION_STARTS, newCaption, UNDRESSED } from '../dress/index.js';
import { FILE_KIND_IDS } from '../files/index.js';
import { changeWeigh, newRecipe, type Recipe } from '../recipe/index.js';
import { loopOf } from '../render/index.js';
import {
  fileKey,
  fitKey,
  followingKey,
  kindsKey,
  likenessKey,
  loopKey,
  savingsKey,
  seamsKey,
  stagePlanKey,
} from './index.js';

const times = { starts: Array.from({ length: 200 }, (_, i) => i / 60), duration: 200 / 60 };
const HASH = (letter: string) => letter.repeat(64);
const at = { x: 0.1, y: 0.2, width: 0.3, height: 0.3 };

/** A recipe in which every list of entries has one. */
const rich: Recipe = {
  ...newRecipe(HASH('a'), times),
  span: { start: 20, end: 140 },
  framing: {
    ...newRecipe(HASH('a'), times).framing,
    crop: { x: 10, y: 20, width: 100, height: 50 },
  },
  still: {
    plate: { kind: 'frame', frame: 30 },
    ripples: [
      {
        ...{ id: 'r1', name: 'Steam', mask: HASH('b'), outlines: [], grow: 1, feather: 4, invert: false },
        ...{ shown: true, loop: null },
      },
    ],
    steady: true,
    evenLight: true,
  },
  dress: {
    ...UNDRESSED,
    colour: { ...UNDRESSED.colour, table: { hash: HASH('c'), name: 'Evening', strength: 70 } },
    veils: [
      {
        ...{ id: 'v1', name: 'Face', shape: 'rectangle', mask: null, effect: 'blocks', strength: 40 },
        ...{
          colour: '#102030',
          feather: 5,
          keys: [{ ...at, frame: 3, by: 'hand' }],
          span: null,
          shown: true,
        },
      },
    ],
    captions: [{ ...newCaption(CAPTION_STARTS.below, 'c1'), text: 'Tea', time: { fromCs: 10, toCs: 90 } }],
    emblems: [
      {
        ...{ id: 'e1', name: 'sign.png', hash: HASH('d'), anchor: 'top-left', width: 12, margin: 4 },
        ...{ opacity: 80, turn: 0, shown: true, time: null },
      },
    ],
  },
};

/** Fields that reach no pixel, by the end of their path. */
const UNSEEN = /\.(ripples|veils|captions|emblems)\.0\.(id|name)$|\.table\.name$/;

/** Every leaf of a document. */
function* leaves(value: unknown, path = ''): Generator<[path: string, leaf: unknown]> {
  if (typeof value !== 'object' || value === null) {
    yield [path, value];
    return;
  }
  for (const [key, inner] of Object.entries(value)) yield* leaves(inner, `${path}.${key}`);
}

/** The document with one leaf changed; nothing else is another object than it must be. */
function changed<Value>(value: Value, path: readonly string[]): Value {
  const [key, ...rest] = path;
  if (key === undefined) return other(value) as Value;
  if (Array.isArray(value)) return value.with(Number(key), changed(value[Number(key)], rest)) as Value;
  return { ...value, [key]: changed(value[key as keyof Value], rest) };
}

function other(leaf: unknown): unknown {
  if (typeof leaf === 'number') return leaf + 1;
  if (typeof leaf === 'boolean') return !leaf;
  return leaf === null ? 'something' : `${leaf} changed`;
}

const isOwnKind = (path: string, { weigh }: Recipe) =>
  !FILE_KIND_IDS.some((id) => id !== weigh.kind && path.startsWith(`.weigh.${id}.`));

describe('the key of a file', () => {
  it.each(FILE_KIND_IDS)(
    'changes with every field of the recipe but those that it is not made from (%s)',
    (kind) => {
      const recipe = { ...rich, weigh: changeWeigh(rich.weigh, { kind }) };
      const key = fileKey(recipe);
      let count = 0;
      for (const [path] of leaves(recipe)) {
        const isMadeFrom = isOwnKind(path, recipe) && !UNSEEN.test(path);
        const next = fileKey(changed(recipe, path.slice(1).split('.')));
        expect(next !== key, path).toBe(isMadeFrom);
        count++;
      }
      expect(count).toBeGreaterThan(100);
    },
  );

  it('does not depend on the order in which fields were written', () => {
    const turn = (value: unknown): unknown =>
      Array.isArray(value)
        ? value.map(turn)
        : typeof value === 'object' && value !== null
          ? Object.fromEntries(
              Object.entries(value)
                .reverse()
                .map(([key, inner]) => [key, turn(inner)]),
            )
          : value;
    expect(fileKey(turn(rich) as Recipe)).toBe(fileKey(rich));
  });
});

describe('the key of a likeness', () => {
  it('is another one for each file and each width', () => {
    const files = [fileKey(rich), fileKey({ ...rich, plays: 7 })];
    const keys = files.flatMap((file) => [100, 480].map((width) => likenessKey(file, width)));
    expect(new Set([...keys, ...files]).size).toBe(6);
    expect(likenessKey(fileKey({ ...rich }), 480)).toBe(keys[1]);
  });
});

describe('the key of a loop', () => {
  it('is the same for every change of the recipe that leaves its reel alone, and another for all that do not', () => {
    const base: Recipe = { ...rich, weigh: { ...rich.weigh, kind: 'mp4', frameRate: 60 } };
    const reelOf = (recipe: Recipe) => JSON.stringify(loopOf(recipe, { times }));
    const edits: ((recipe: Recipe) => Recipe)[] = [
      (recipe) => ({ ...recipe, weigh: { ...recipe.weigh, kind: 'gif' } }),
      (recipe) => ({ ...recipe, weigh: { ...recipe.weigh, frameRate: 10 } }),
      (recipe) => ({ ...recipe, span: { start: 21, end: 140 } }),
      (recipe) => ({ ...recipe, loop: { ...recipe.loop, speed: 2 } }),
      (recipe) => ({ ...recipe, loop: { ...recipe.loop, reverse: true } }),
      (recipe) => ({ ...recipe, loop: { ...recipe.loop, join: { kind: 'crossfade', frames: 5 } } }),
      (recipe) => ({ ...recipe, weigh: { ...recipe.weigh, width: 99 } }),
      (recipe) => ({ ...recipe, weigh: changeWeigh(recipe.weigh, { gif: { colors: 9 } }) }),
      (recipe) => ({ ...recipe, dress: UNDRESSED }),
      (recipe) => ({ ...recipe, framing: { ...recipe.framing, crop: null } }),
      (recipe) => ({ ...recipe, plays: 4 }),
    ];
    for (const [i, edit] of edits.entries()) {
      const next = edit(base);
      const isSame = reelOf(next) === reelOf(base);
      expect(loopKey(next) === loopKey(base), `edit ${i}`).toBe(isSame);
    }
  });
});

describe('keys of what the stage shows', () => {
  const mp4: Recipe = { ...rich, weigh: { ...rich.weigh, kind: 'mp4', frameRate: 60 } };

  it('change when a kind of file of another clock is chosen', () => {
    const gif = { ...mp4, weigh: { ...mp4.weigh, kind: 'gif' as const } };
    expect(stagePlanKey(gif)).not.toBe(stagePlanKey(mp4));
    expect(stagePlanKey({ ...mp4, weigh: changeWeigh(mp4.weigh, { mp4: { quality: 5 } }) })).toBe(
      stagePlanKey(mp4),
    );
  });

  it('of seams change with what is seen of the picture, and not with how it is dressed', () => {
    const ask = { within: 'take', length: { min: 1, max: 4 } };
    const uncropped = { ...rich, framing: { ...rich.framing, crop: null } };
    expect(seamsKey(uncropped, ask)).not.toBe(seamsKey(rich, ask));
    expect(seamsKey({ ...rich, dress: UNDRESSED }, ask)).toBe(seamsKey(rich, ask));
    expect(seamsKey(rich, { ...ask, length: { min: 1, max: 5 } })).not.toBe(seamsKey(rich, ask));
  });
});

describe('keys of what is tried on a file', () => {
  const renamed: Recipe = {
    ...rich,
    still: { ...rich.still, ripples: [{ ...rich.still.ripples[0], name: 'Tea' }] },
  };
  const colour = (change: Partial<Recipe['dress']['colour']>): Recipe => ({
    ...rich,
    dress: { ...rich.dress, colour: { ...rich.dress.colour, ...change } },
  });
  const limit = {
    name: 'Page',
    width: 480,
    height: null,
    bytes: 500_000,
    seconds: null,
    frameRate: null,
    alpha: true,
    kinds: null,
  };

  it('stay when something is only renamed, and change with what is seen', () => {
    const keys = (recipe: Recipe) => [
      savingsKey(recipe, 'settings'),
      savingsKey(recipe, 'looks'),
      fitKey(recipe, limit),
      kindsKey(recipe),
    ];
    const before = keys(rich);
    expect(new Set(before).size).toBe(4);
    expect(keys(renamed)).toEqual(before);
    const after = keys({ ...rich, dress: { ...rich.dress, captions: [] } });
    expect(after.filter((key, i) => key === before[i])).toEqual([]);
  });

  it('of looks stay when another look is taken, and change with how strong it is', () => {
    const bread = colour({ look: { id: 'ink-bath', strength: 100 } });
    expect(savingsKey(bread, 'looks')).toBe(savingsKey(rich, 'looks'));
    expect(savingsKey(bread, 'settings')).not.toBe(savingsKey(rich, 'settings'));
    expect(savingsKey(colour({ look: { id: 'ink-bath', strength: 40 } }), 'looks')).not.toBe(
      savingsKey(rich, 'looks'),
    );
  });

  it('of all kinds stay whichever kind is chosen, and change with the settings of each', () => {
    const of = (change: Parameters<typeof changeWeigh>[1]) =>
      kindsKey({ ...rich, weigh: changeWeigh(rich.weigh, change) });
    expect(of({ kind: 'webp' })).toBe(of({ kind: 'gif' }));
    expect(of({ webp: { quality: 11 } })).not.toBe(of({}));
    expect(of({ mp4: { quality: 11 } })).not.toBe(of({}));
  });

  it('of a limit change with each of its values', () => {
    const before = fitKey(rich, limit);
    for (const [field, value] of Object.entries({
      width: 481,
      bytes: 1,
      seconds: 3,
      frameRate: 5,
      alpha: false,
    })) {
      expect(fitKey(rich, { ...limit, [field]: value }), field).not.toBe(before);
    }
  });

  it('of a following change with the footage, the region, and both ends', () => {
    const followed = { footage: HASH('a'), region: at, frame: 3, last: 90 };
    const others = [
      { ...followed, footage: HASH('b') },
      { ...followed, region: { ...at, width: 0.31 } },
      { ...followed, frame: 4 },
      { ...followed, last: 89 },
    ];
    expect(new Set([followed, ...others].map(followingKey)).size).toBe(5);
    expect(followingKey({ ...followed, region: { ...at } })).toBe(followingKey(followed));
  });
});
