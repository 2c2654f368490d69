import type { Veil, VeilKey } from '@muted-pond/core/dress';
import { createMask } from '@muted-pond/core/still';
import { describe, expect, it } from 'vitest';
import { draggedBy } from './VeilGround.js';
import { boundsOf, middleOf, newVeil, placedAt, rebased } from './veil-edits.js';
import { rectOnShown, rectOnTake } from './veil-ground-place.js';

describe('a veil under the hand', () => {
  const key = (frame: number, x: number): VeilKey => ({
    frame,
    x,
    y: 0.2,
    width: 0.2,
    height: 0.2,
    by: 'following',
  });

  it('begins as a square on the screen, in the middle of what is seen', () => {
    const at = middleOf({ x: 0, y: 0, width: 0.5, height: 1 }, { width: 1600, height: 800 });
    expect(at.width * 1600).toBeCloseTo(at.height * 800, 6);
    expect(at.x + at.width / 2).toBeCloseTo(0.25, 6);
  });

  it('sets a key of the hand at its frame, in its order', () => {
    const veil: Veil = {
      ...newVeil('v', 'rectangle', key(0, 0), 0, null),
      keys: [key(0, 0.1), key(20, 0.5)],
    };
    const { keys = [] } = placedAt(veil, 10, { x: 0.9, y: 0.1, width: 0.3, height: 9 });
    expect(keys.map(({ frame, by }) => [frame, by])).toEqual([
      [0, 'following'],
      [10, 'hand'],
      [20, 'following'],
    ]);
    // A side has its bounds.
    expect(keys[1].height).toBe(8);
  });

  it('is sized by each corner with the other one held', () => {
    const from = { x: 100, y: 100, width: 50, height: 40 };
    expect(draggedBy(from, 'se', 10, 5)).toEqual({ x: 100, y: 100, width: 60, height: 45 });
    expect(draggedBy(from, 'nw', 10, 5)).toEqual({ x: 110, y: 105, width: 40, height: 35 });
    const tiny = draggedBy(from, 'nw', 500, 500);
    expect([tiny.x + tiny.width, tiny.y + tiny.height]).toEqual([150, 140]);
  });

  it('lies on the screen where it lies on the take, turned and mirrored too', () => {
    const shown = { width: 300, height: 500 };
    for (const turn of [0, 90, 180, 270] as const) {
      for (const mirror of [false, true]) {
        const way = {
          ...{ takeSize: { width: 640, height: 360 }, part: { x: 40, y: 20, width: 400, height: 300 } },
          ...{ turn, mirror, matte: 'transparent' as const },
        };
        const rect = { x: 0.2, y: 0.3, width: 0.1, height: 0.25 };
        const back = rectOnTake(way, rectOnShown(way, rect, shown), shown);
        for (const name of ['x', 'y', 'width', 'height'] as const)
          expect(back[name]).toBeCloseTo(rect[name], 9);
      }
    }
  });

  it('that is painted on stretches all its keys alike', () => {
    const mask = createMask(100, 50);
    expect(boundsOf(mask)).toBeNull();
    for (let y = 10; y < 20; y++) mask.values.fill(255, y * 100 + 20, y * 100 + 40);
    const bounds = boundsOf(mask);
    expect(bounds).toEqual({ x: 0.2, y: 0.2, width: 0.2, height: 0.2 });
    if (!bounds) return;
    const [first, second] = rebased([key(0, 0.3), { ...key(9, 0.6), width: 0.4 }], bounds);
    expect(first).toMatchObject(bounds);
    // Twice as wide there: the way to the left counts twice.
    expect(second.x).toBeCloseTo(0.4, 9);
    expect(second.width).toBeCloseTo(0.4, 9);
  });
});
