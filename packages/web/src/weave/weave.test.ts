import type { WeavingView } from '@muted-pond/core/api';
import { WOVEN_LIMITS } from '@muted-pond/core/loop';
import { describe, expect, it } from 'vitest';
import { withLastParts } from '../api/weaving.js';
import { wovenRound } from '../piece/loop-edits.js';
import { fromMovesSlider, toMovesSlider } from './moves-scale.js';
import { wovenWords } from './woven-words.js';

const view = (part: Partial<WeavingView>): WeavingView => ({
  ...{ piece: 'p', key: 'a', state: 'working', done: 0, parts: null, problem: null, revision: 1 },
  ...part,
});
const PARTS = {} as NonNullable<WeavingView['parts']>;

describe('what is known of a weave', () => {
  it('stays until the next is there', () => {
    const done = view({ state: 'done', parts: PARTS });
    const next = withLastParts(done, view({ key: 'b', done: 0.4 }));
    expect(next).toMatchObject({ key: 'b', state: 'working', done: 0.4 });
    expect(next.parts).toBe(PARTS);
    expect(withLastParts(next, view({ key: 'b', state: 'failed', problem: 'No.' })).parts).toBe(PARTS);
  });
});

describe('how much moves', () => {
  it('is a scale on which every step multiplies alike', () => {
    const { min, max, usual } = WOVEN_LIMITS.liveliness;
    expect([fromMovesSlider(0), fromMovesSlider(100)]).toEqual([min, max]);
    for (let value = 0; value <= 100; value += 5) expect(toMovesSlider(fromMovesSlider(value))).toBe(value);
    expect(fromMovesSlider(20) / fromMovesSlider(10)).toBeCloseTo(
      fromMovesSlider(80) / fromMovesSlider(70),
      1,
    );
    expect(toMovesSlider(usual)).toBe(60);
  });
});

describe('what is said of a weave', () => {
  const of = (moving: number, energy = 1, living = 0.5) =>
    wovenWords({ moving, energy, living, spread: 1.42 });

  it('is what moves, what stands still, and how far the joint is spread', () => {
    expect(of(0.62)).toBe('62 % moves, 38 % stands still; the joint is spread over 1.4 s.');
    expect(of(1)).toBe('100 % moves, all of it; the joint is spread over 1.4 s.');
  });

  it('warns the more, the worse things come back', () => {
    expect(of(0.4, 4)).not.toContain('Look at it');
    expect(of(0.4, 6)).toContain('parts hardly find a place to join');
    expect(of(0.4, 12)).toContain('a crossfade may look better');
  });

  it('tells a picture that stands still by itself from one that is held', () => {
    expect(of(0, 0, 0)).toContain('nothing in this span moves');
    expect(of(0, 8, 0.6)).toContain('Let more move');
  });
});

describe('a round to weave', () => {
  it('takes as much footage around a span as is of use', () => {
    const made = wovenRound({ start: 100, end: 140 }, 40, 500);
    expect(made?.span).toEqual({ start: 73, end: 166 });
    expect(made?.join).toMatchObject({ kind: 'per-pixel', frames: 40, touches: [] });
    // At an end of the footage it goes the other way.
    expect(wovenRound({ start: 0, end: 40 }, 40, 500)?.span).toEqual({ start: 0, end: 93 });
    expect(wovenRound({ start: 470, end: 500 }, 40, 500)?.span).toEqual({ start: 407, end: 500 });
  });

  it('needs some frames more than its length', () => {
    expect(wovenRound({ start: 0, end: 40 }, 40, 53)?.span).toEqual({ start: 0, end: 53 });
    expect(wovenRound({ start: 0, end: 40 }, 40, 52)).toBeNull();
  });
});
