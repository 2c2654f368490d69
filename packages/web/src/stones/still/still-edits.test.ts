import { newRecipe } from '@muted-pond/core/recipe';
import {
  LONGEST_MASK_SIDE,
  movingShare,
  NOTHING_HELD,
  type Outline,
  partAt,
  partMask,
  proposedMasks,
  type StillSettings,
} from '@muted-pond/core/still';
import { describe, expect, it } from 'vitest';
import { sizeOfMasks } from '../../paint/mask-size.js';
import { placeOnShown, placeOnTake } from '../../paint/pointer-place.js';
import {
  changePoint,
  changeRipple,
  dropRipple,
  moveRipple,
  newRipple,
  rippleName,
  withOutline,
  withPaint,
  withProposal,
  withRounds,
} from './still-edits.js';

const triangle: Outline = {
  adds: true,
  points: [
    { x: 0.1, y: 0.1, smooth: true },
    { x: 0.9, y: 0.1, smooth: true },
    { x: 0.5, y: 0.9, smooth: false },
  ],
};

describe('the first stroke', () => {
  it('holds the frame on the stage and makes a ripple; the next ones go to it', () => {
    const first = withPaint(NOTHING_HELD, null, 'a', 42);
    expect(first.still.plate).toEqual({ kind: 'frame', frame: 42 });
    expect(first.still.ripples).toHaveLength(1);
    const second = withPaint(first.still, first.id, 'b', 77);
    expect(second.still.plate).toEqual({ kind: 'frame', frame: 42 });
    expect(second.still.ripples.map((ripple) => ripple.mask)).toEqual(['b']);
    const other = withPaint(second.still, null, 'c', 77);
    expect(other.still.ripples.map((ripple) => ripple.name)).toEqual(['Ripple 1', 'Ripple 2']);
  });

  it('may be an outline, which then always adds', () => {
    const { still } = withOutline(NOTHING_HELD, null, { ...triangle, adds: false }, 3);
    expect(still.ripples[0].outlines[0].adds).toBe(true);
    const cut = withOutline(still, still.ripples[0].id, { ...triangle, adds: false }, 3);
    expect(cut.still.ripples[0].outlines.map((outline) => outline.adds)).toEqual([true, false]);
  });
});

describe('ripples', () => {
  const three = ['a', 'b', 'c'].map((id) => newRipple(id.toUpperCase(), { id }));
  const still = { ...NOTHING_HELD, ripples: three };
  const order = (after: StillSettings) => after.ripples.map((ripple) => ripple.id).join('');

  it('change, move and go one at a time', () => {
    expect(changeRipple(still, 'b', { feather: 30 }).ripples.map((ripple) => ripple.feather)).toEqual([
      6, 30, 6,
    ]);
    expect(order(moveRipple(still, 'b', -1))).toBe('bac');
    expect(order(moveRipple(still, 'a', -1))).toBe('abc');
    expect(order(moveRipple(still, 'c', 1))).toBe('abc');
    expect(order(dropRipple(still, 'b'))).toBe('ac');
  });

  it('get names that are free', () => {
    const named = { ...NOTHING_HELD, ripples: [newRipple('Ripple 2')] };
    expect(rippleName(named)).toBe('Ripple 3');
    expect(rippleName(NOTHING_HELD)).toBe('Ripple 1');
  });
});

describe('points of an outline', () => {
  it('move, bend and go; without a third one the outline goes', () => {
    const moved = changePoint([triangle], 0, 1, { x: 0.7 });
    expect(moved[0].points[1]).toEqual({ x: 0.7, y: 0.1, smooth: true });
    expect(changePoint([triangle], 0, 2, { smooth: true })[0].points[2].smooth).toBe(true);
    expect(changePoint([triangle, triangle], 0, 0, null)).toEqual([triangle]);
  });
});

describe('a proposal', () => {
  const labels = Uint8Array.from({ length: 64 * 36 }, (_, p) => (p % 64 < 20 ? 1 : p % 64 > 60 ? 2 : 0));
  const motion = {
    ...{ width: 64, height: 36, labels },
    parts: [
      { area: 20 * 36, spread: 9 },
      { area: 3 * 36, spread: 4 },
    ],
  };

  it('is a mask for each part that is worth one', () => {
    const size = { width: 256, height: 144 };
    const masks = proposedMasks(motion, size);
    expect(masks.map(({ width, height }) => ({ width, height }))).toEqual([size, size]);
    expect(movingShare(masks[0])).toBeCloseTo(20 / 64, 2);
    expect(movingShare(masks[1])).toBeCloseTo(3 / 64, 2);
    expect(proposedMasks({ ...motion, parts: [motion.parts[0], { area: 4 }] }, size)).toHaveLength(1);
    expect(proposedMasks({ ...motion, parts: [] }, size)).toEqual([]);
  });

  it('takes the place of the ripples that were there, and keeps the plate', () => {
    const before = withPaint(NOTHING_HELD, null, 'a', 5).still;
    const after = withProposal(before, ['x', 'y'], 60);
    expect(after.ripples.map((ripple) => ripple.mask)).toEqual(['x', 'y']);
    expect(after.plate).toEqual({ kind: 'frame', frame: 5 });
    expect(withProposal(NOTHING_HELD, ['x'], 60).plate).toEqual({ kind: 'frame', frame: 60 });
  });

  it('is never larger than masks may be', () => {
    expect(sizeOfMasks({ width: 3840, height: 2160 })).toEqual({ width: LONGEST_MASK_SIDE, height: 1080 });
    expect(sizeOfMasks({ width: 641, height: 361 })).toEqual({ width: 641, height: 361 });
  });
});

describe('a place under the pointer', () => {
  const part = { x: 100, y: 40, width: 400, height: 200 };

  it('is found again whichever way the picture is turned', () => {
    for (const turn of [0, 90, 180, 270] as const) {
      for (const mirror of [false, true]) {
        const at = placeOnShown({ part, turn, mirror }, 130, 200);
        const back = placeOnTake({ part, turn, mirror }, at.x, at.y);
        expect(back.x).toBeCloseTo(130, 6);
        expect(back.y).toBeCloseTo(200, 6);
      }
    }
  });

  it('lies where a quarter turn puts it', () => {
    // The take's upper left corner is at the right after a quarter turn clockwise.
    expect(placeOnShown({ part, turn: 90, mirror: false }, 100, 40)).toEqual({ x: 1, y: 0 });
    expect(placeOnShown({ part, turn: 90, mirror: true }, 100, 40)).toEqual({ x: 0, y: 0 });
    expect(placeOnShown({ part, turn: 180, mirror: false }, 100, 40)).toEqual({ x: 1, y: 1 });
  });
});

describe('parts that move', () => {
  // Two bars, four and two wide, forty places apart.
  const width = 120;
  const labels = Uint8Array.from({ length: width * 10 }, (_, p) => {
    const x = p % width;
    return x >= 20 && x < 24 ? 1 : x >= 64 && x < 66 ? 2 : 0;
  });
  const map = { width, height: 10, labels };

  it('are meant by a click on them or near them, and not from afar', () => {
    expect(partAt(map, 21.5, 5)).toBe(1);
    expect(partAt(map, 40.5, 5)).toBe(1);
    expect(partAt(map, 47.5, 5)).toBe(2);
    expect(partAt(map, 110, 5)).toBe(0);
    expect(partAt({ ...map, labels: new Uint8Array(labels.length) }, 21, 5)).toBe(0);
  });

  it('become a mask each', () => {
    const size = { width: width * 4, height: 40 };
    expect(movingShare(partMask(map, 1, size)) * width).toBeCloseTo(4, 0);
    expect(movingShare(partMask(map, 2, size)) * width).toBeGreaterThan(0.8);
  });
});

describe('a round for each ripple', () => {
  const round = { span: { start: 4, end: 24 }, join: { kind: 'cut' as const }, rounds: 2 };
  const times = { starts: Array.from({ length: 100 }, (_, i) => i / 25), duration: 4 };
  const recipe = newRecipe('a'.repeat(64), times);

  it('is kept with it, and the span is as long as the common round', () => {
    const ripples = [newRipple('A', { id: 'a' }), newRipple('B', { id: 'b', shown: false })];
    const held = { ...recipe, span: { start: 70, end: 90 }, still: { ...NOTHING_HELD, ripples } };
    const found = { frames: 40, rounds: [{ id: 'a', round, score: 97 }] };
    const next = withRounds(held, found, 100);
    expect(next.span).toEqual({ start: 60, end: 100 });
    expect(next.still.ripples.map((ripple) => ripple.loop)).toEqual([round, null]);
    expect(withRounds({ ...held, span: { start: 5, end: 90 } }, found, 100).span).toEqual({
      start: 5,
      end: 45,
    });
  });

  const ripples = [newRipple('A', { id: 'a' })];
  const held = { ...recipe, span: { start: 70, end: 90 }, still: { ...NOTHING_HELD, ripples } };

  it('is woven where it has no good loop of that length, and the footage is long enough', () => {
    const round = { span: { start: 30, end: 70 }, join: { kind: 'cut' }, rounds: 1 } as const;
    const found = { frames: 40, rounds: [{ id: held.still.ripples[0].id, round, score: 60 }] };
    const [woven] = withRounds(held, found, 150).still.ripples;
    expect(woven.loop?.join).toMatchObject({ kind: 'per-pixel', frames: 40 });
    // As much footage around it as is of use, and never past an end.
    expect(woven.loop?.span).toEqual({ start: 3, end: 96 });
    expect(withRounds(held, found, 50).still.ripples[0].loop).toEqual(round);
    const good = { ...found, rounds: [{ ...found.rounds[0], score: 95 }] };
    expect(withRounds(held, good, 150).still.ripples[0].loop).toEqual(round);
  });
});
