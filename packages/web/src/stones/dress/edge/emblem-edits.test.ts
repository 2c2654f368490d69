import { UNDRESSED } from '@muted-pond/core/dress';
import { newRecipe, type Recipe } from '@muted-pond/core/recipe';
import { describe, expect, it } from 'vitest';
import { HASH, TIMES } from '../../../testing/screen.js';
import { anchorNear, moveEmblem, newEmblem } from './emblem-edits.js';

describe('an emblem under the hand', () => {
  it('takes the anchor it is let go near, and a margin from there', () => {
    const emblems = [newEmblem('e', 'sign.png', HASH)];
    const start: Recipe = { ...newRecipe(HASH, TIMES), dress: { ...UNDRESSED, emblems } };
    const shown = { width: 800, height: 400 };
    const moved = moveEmblem(start, start, 'e', { dx: -600, dy: -280 }, shown);
    expect(moved.dress.emblems[0].anchor).toBe('top-left');
    expect(moved.dress.emblems[0].margin).toBeGreaterThanOrEqual(0);
    expect(anchorNear(0.5, 0.5)).toBe('middle');
    expect([anchorNear(0.9, 0.5), anchorNear(0.5, 0.9), anchorNear(0.1, 0.9)]).toEqual([
      ...['right', 'bottom', 'bottom-left'],
    ]);
  });
});
