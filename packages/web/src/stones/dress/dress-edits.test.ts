import { CAPTION_STARTS, type DressSettings, newCaption, UNDRESSED } from '@muted-pond/core/dress';
import { newRecipe, type Recipe } from '@muted-pond/core/recipe';
import { describe, expect, it } from 'vitest';
import { HASH, TIMES } from '../../testing/screen.js';
import { copiedWords, laidOn } from './dress-clipboard.js';
import { changeStyle, duplicateEntry, moveEntry, removeEntry } from './dress-edits.js';
import { dressWords } from './dress-words.js';
import { lanesOf } from './lanes.js';
import { momentOf, nearestCs, placeAt } from './reel-time.js';
import { snapBlock } from './snap-block.js';
import { newVeil } from './veils/veil-edits.js';

const caption = (id: string) => ({ ...newCaption(CAPTION_STARTS.below, id), text: id });
const dressed = (part: Partial<DressSettings>): Recipe => ({
  ...newRecipe(HASH, TIMES),
  dress: { ...UNDRESSED, ...part },
});
const ids = ({ dress }: Recipe) => dress.captions.map(({ id }) => id);

describe('the list of captions', () => {
  const recipe = dressed({ captions: [caption('a'), caption('b'), caption('c')] });

  it('is put in another order, not beyond its ends', () => {
    expect(ids(moveEntry(recipe, 'captions', 'a', 1))).toEqual(['b', 'a', 'c']);
    expect(ids(moveEntry(recipe, 'captions', 'c', 1))).toEqual(['a', 'b', 'c']);
    expect(ids(moveEntry(recipe, 'captions', 'a', -1))).toEqual(['a', 'b', 'c']);
  });

  it('has a copy right above its original, and loses only what is taken away', () => {
    expect(ids(duplicateEntry(recipe, 'captions', 'b', 'copy'))).toEqual(['a', 'b', 'copy', 'c']);
    expect(ids(removeEntry(recipe, 'captions', 'b'))).toEqual(['a', 'c']);
  });

  it('changes the style of one and nothing else', () => {
    const changed = changeStyle(recipe, 'b', { size: 30 });
    expect(changed.dress.captions.map(({ style }) => style.size)).toEqual([7, 30, 7]);
    expect(changeStyle(recipe, 'gone', { size: 30 })).toBe(recipe);
  });
});

describe('the word on the course', () => {
  it('tells what is dressed, and no more than has room', () => {
    const { colour } = UNDRESSED;
    const look = { id: 'wet-slate', strength: 100 } as const;
    expect(dressWords(UNDRESSED)).toBe('as filmed');
    expect(
      dressWords({
        ...UNDRESSED,
        captions: [caption('a'), caption('b'), { ...caption('c'), shown: false }],
        colour: { ...colour, look },
      }),
    ).toBe('2 captions, black & white');
    expect(dressWords({ ...UNDRESSED, colour: { ...colour, look: { ...look, strength: 0 } } })).toBe(
      'as filmed',
    );
    expect(
      dressWords({
        ...UNDRESSED,
        captions: [caption('a')],
        border: { width: 2, colour: '#000000' },
        corners: { radius: 3, fill: 'transparent' },
        colour: { ...colour, sharpness: 10 },
      }),
    ).toBe('1 caption, graded +2');
  });
});

describe('a dragged block', () => {
  const frame = { width: 800, height: 400 };

  it('is caught by the middle, the edges and the safe margin', () => {
    expect(snapBlock({ x: 303, y: 100, width: 200, height: 40 }, frame, 8)).toMatchObject({
      ...{ dx: -3, dy: 0, guides: [{ axis: 'x', at: 0.5 }] },
    });
    expect(snapBlock({ x: 35, y: 15, width: 100, height: 40 }, frame, 8)).toMatchObject({ dx: 5, dy: 5 });
    const low = snapBlock({ x: 697, y: 363, width: 100, height: 40 }, frame, 8);
    expect([low.dx, low.dy]).toEqual([3, -3]);
  });

  it('is left alone elsewhere', () => {
    expect(snapBlock({ x: 120, y: 90, width: 100, height: 40 }, frame, 8)).toEqual({
      dx: 0,
      dy: 0,
      guides: [],
    });
  });
});

describe('bars of time', () => {
  it('never lie over each other, and take as few lanes as can be', () => {
    const times = [
      { fromCs: 0, toCs: 100 },
      { fromCs: 100, toCs: 200 },
      { fromCs: 50, toCs: 150 },
      { fromCs: 160, toCs: 200 },
    ];
    const { lanes, count } = lanesOf(times);
    expect(count).toBe(2);
    for (const [i, one] of times.entries()) {
      for (const [k, other] of times.entries()) {
        if (i >= k || lanes[i] !== lanes[k]) continue;
        expect(one.toCs <= other.fromCs || other.toCs <= one.fromCs).toBe(true);
      }
    }
  });

  it('begin and end with frames of the reel', () => {
    const reel = [5, 10, 5].map((delayCs, source) => ({ source, delayCs }));
    expect(momentOf(reel, 1)).toEqual({ beginsCs: 5, endsCs: 15 });
    expect([0, 4, 5, 14, 15, 99].map((cs) => placeAt(reel, cs))).toEqual([0, 0, 1, 1, 2, 2]);
    expect([0, 2, 3, 12, 99].map((cs) => nearestCs(reel, cs))).toEqual([0, 0, 5, 15, 20]);
  });
});

describe('what was copied', () => {
  it('lies on another piece: one caption more under a fresh id, or all but the veils', () => {
    const veil = newVeil('v', 'ellipse', { x: 0, y: 0, width: 0.1, height: 0.1 }, 0, null);
    const onto = dressed({ captions: [caption('a')], veils: [veil] });
    const one = laidOn(onto, { type: 'captions', from: 'x', entry: caption('a') }, () => 'fresh');
    expect(one && ids(one)).toEqual(['a', 'fresh']);
    const dress = { ...UNDRESSED, border: { width: 3, colour: '#123456' } };
    const all = laidOn(onto, { type: 'dress', from: 'x', dress }, () => 'fresh');
    expect(all?.dress).toEqual({ ...dress, veils: [veil] });
    expect(copiedWords({ type: 'dress', from: 'Carp', dress })).toBe('the dress of “Carp”');
  });

  it('of another version, or more than a piece can hold, is not laid', () => {
    const broken = { type: 'dress', from: 'x', dress: { colour: 7 } } as never;
    expect(laidOn(dressed({}), broken, () => 'id')).toBeNull();
    const full = dressed({ captions: Array.from({ length: 200 }, (_, i) => caption(`c${i}`)) });
    expect(laidOn(full, { type: 'captions', from: 'x', entry: caption('a') }, () => 'id')).toBeNull();
  });
});
