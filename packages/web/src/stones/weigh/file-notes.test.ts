import type { TrialFigures } from '@muted-pond/core/api';
import { newRecipe, type Recipe } from '@muted-pond/core/recipe';
import { describe, expect, it } from 'vitest';
import { notesOf } from './file-notes.js';

const recipe = newRecipe('a'.repeat(64), { starts: [0, 0.5], duration: 1 });
const even: TrialFigures = {
  kind: 'gif',
  ...{ bytes: 100_000, width: 480, height: 270, frames: 10, durationMs: 1000, colors: 255, likeness: 0.97 },
  ...{ steady: null, frameBytes: [28_000, ...Array(9).fill(8000)], palette: [] },
  ms: { decode: 1, compose: 1, encode: 1, total: 3 },
};

describe('notes on a file', () => {
  it('are none where nothing stands out', () => {
    expect(notesOf(even, recipe)).toEqual([]);
  });

  it('tell of the frames that weigh', () => {
    const frameBytes = [60_000, 4000, 4000, 24_000, 4000, 4000, 0, 0, 0, 0];
    const [first, heavy] = notesOf({ ...even, frameBytes }, recipe);
    expect(first.words).toContain('60 KB, 60 % of it');
    expect(heavy.words).toContain('Frame 3 to 4: 24 KB, 6.0 × the usual');
  });

  it('tell what viewers would do, each with a remedy that ends it', () => {
    const fast = { ...even, frames: 25, durationMs: 1000, width: 1280 };
    const once: Recipe = { ...recipe, plays: 1, weigh: { ...recipe.weigh, frameRate: 25 } };
    const notes = notesOf(fast, once);
    expect(notes.map(({ kind }) => kind)).toEqual(['viewers', 'viewers', 'viewers']);
    expect(notes[0].words).toContain('2.50 s there, not 1.00 s');
    const mended = notes.reduce<Recipe>((now, note) => note.remedy?.change(now) ?? now, once);
    expect(mended.weigh.frameRate).toBe(12);
    expect(mended.plays).toBe(0);
    expect(notesOf({ ...fast, frames: 12, width: mended.weigh.width }, mended)).toEqual([]);
  });
});
