// @vitest-environment jsdom
import { stagePlanKey, weavingKey } from '@muted-pond/core/derived';
import { joinOf } from '@muted-pond/core/loop';
import type { Recipe } from '@muted-pond/core/recipe';
import type { Ripple } from '@muted-pond/core/still';
import { act } from '@testing-library/react';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { keys } from '../api/queries.js';
import { takeNow } from '../piece/piece-take.js';
import type { Workspace } from '../piece/workspace-context.js';
import { useHoldingKeeper } from '../stones/still/use-holding.js';
import { openedPiece, show } from '../testing/screen.js';
import { useWeaveKeeper } from '../weave/use-weave-keeper.js';

beforeEach(() => void vi.useFakeTimers({ shouldAdvanceTime: true }));
afterEach(() => void vi.useRealTimers());

function Keepers() {
  useWeaveKeeper();
  useHoldingKeeper();
  return null;
}

const RIPPLE: Ripple = {
  ...{ id: 'r1', name: 'Steam', mask: 'b'.repeat(64), outlines: [], grow: 0, feather: 4, invert: false },
  ...{ shown: true, loop: null },
};

/** What the page asks the server for while a piece is changed. */
function opened(edit: (recipe: Recipe) => Recipe) {
  const piece = openedPiece(edit);
  const asked: { path: string; method: string; body: { recipe: Recipe } | null }[] = [];
  const shown = show(<Keepers />, piece);
  vi.stubGlobal('fetch', async (path: string, { method, body }: { method: string; body?: string }) => {
    asked.push({ path, method, body: body ? JSON.parse(body) : null });
    throw new TypeError('The server is gone.');
  });
  const change = (next: (recipe: Recipe) => Recipe) =>
    act(async () => {
      piece.store.getState().change(next);
      await vi.advanceTimersByTimeAsync(2000);
    });
  return {
    ...shown,
    piece,
    asked,
    change,
    of: (path: string) => asked.filter((one) => one.path.endsWith(path)),
  };
}

const woven = (recipe: Recipe): Recipe => ({
  ...recipe,
  span: { start: 50, end: 150 },
  loop: { ...recipe.loop, join: joinOf({ kind: 'per-pixel' }).over(40) },
});

const steadied = (recipe: Recipe): Recipe => ({
  ...recipe,
  span: { start: 50, end: 90 },
  still: {
    ...recipe.still,
    ...{ plate: { kind: 'frame', frame: 60 }, steady: true, ripples: [RIPPLE] },
  },
});

const keyNow = ({ store, files }: Workspace) =>
  weavingKey(store.getState().recipe, takeNow({ store, files }));

it('weaves are asked for when another one is, and not for what no weave depends on', async () => {
  const { piece, change, of, client } = opened(woven);
  await change((recipe) => ({ ...recipe, plays: 3 }));
  expect(of('/weaving').map(({ method }) => method)).toEqual(['POST']);
  const key = keyNow(piece);
  await change((recipe) => ({ ...recipe, weigh: { ...recipe.weigh, width: 200 } }));
  await change((recipe) => ({
    ...recipe,
    dress: { ...recipe.dress, border: { width: 4, colour: '#102030' } as never },
  }));
  expect(keyNow(piece)).toBe(key);
  expect(of('/weaving')).toHaveLength(1);
  await change((recipe) => ({
    ...recipe,
    framing: { ...recipe.framing, crop: { x: 0, y: 0, width: 300, height: 200 } },
  }));
  expect(keyNow(piece)).not.toBe(key);
  expect(of('/weaving')).toHaveLength(2);
  expect(of('/weaving')[1].body?.recipe.framing.crop).toMatchObject({ width: 300 });
  // It could not be reached: that is told of this very weave.
  expect(client.getQueryData(keys.weaving('piece'))).toMatchObject({ state: 'failed', key: keyNow(piece) });
  await change((recipe) => ({ ...recipe, loop: { ...recipe.loop, join: { kind: 'cut' } } }));
  expect(of('/weaving').at(-1)?.method).toBe('DELETE');
  expect(client.getQueryData(keys.weaving('piece'))).toBeNull();
});

it('frames are measured anew when others are held, and not for how the file is made', async () => {
  const { change, of, piece } = opened(steadied);
  await change((recipe) => ({ ...recipe, plays: 3 }));
  expect(of('/holding')).toHaveLength(1);
  const before = stagePlanKey(piece.store.getState().recipe);
  await change((recipe) => ({ ...recipe, weigh: { ...recipe.weigh, width: 200 } }));
  // The stage shows other frames; what is measured has a size of its own.
  expect(stagePlanKey(piece.store.getState().recipe)).not.toBe(before);
  expect(of('/holding')).toHaveLength(1);
  await change((recipe) => ({ ...recipe, span: { start: 50, end: 95 } }));
  expect(of('/holding')).toHaveLength(2);
  await change((recipe) => ({
    ...recipe,
    still: { ...recipe.still, ripples: [{ ...RIPPLE, name: 'Tea' }] },
  }));
  expect(of('/holding')).toHaveLength(2);
  await change((recipe) => ({ ...recipe, still: { ...recipe.still, steady: false } }));
  expect(of('/holding')).toHaveLength(2);
});

it('nothing is asked for while a hand moves, and once when it lets go', async () => {
  const { piece, of, change } = opened(steadied);
  await change((recipe) => recipe);
  const asked = of('/holding').length;
  for (let end = 91; end < 100; end++) {
    await act(async () => {
      piece.store.getState().preview((recipe) => ({ ...recipe, span: { start: 50, end } }));
      await vi.advanceTimersByTimeAsync(1000);
    });
  }
  expect(of('/holding')).toHaveLength(asked);
  await act(async () => {
    piece.store.getState().keepDraft();
    await vi.advanceTimersByTimeAsync(2000);
  });
  expect(of('/holding')).toHaveLength(asked + 1);
  expect(of('/holding')[asked].body?.recipe.span.end).toBe(99);
});
