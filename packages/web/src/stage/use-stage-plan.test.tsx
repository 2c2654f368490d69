// @vitest-environment jsdom
import { changeWeigh, type Recipe, type WeighChange } from '@muted-pond/core/recipe';
import { act } from '@testing-library/react';
import { expect, it } from 'vitest';
import type { StagePlan } from '../pictures/composed-frames.js';
import { usePieceLoop } from '../piece/piece-loop.js';
import { openedPiece, show } from '../testing/screen.js';
import { useStagePlan } from './use-stage-plan.js';

interface Seen {
  readonly plan: StagePlan;
  readonly frames: number;
}

function Stage({ onSeen }: { onSeen: (seen: Seen) => void }) {
  const { loop } = usePieceLoop();
  onSeen({ plan: useStagePlan({}), frames: loop?.round ?? 0 });
  return null;
}

/** What the stage is given each time that something is changed. */
function opened(edit: (recipe: Recipe) => Recipe) {
  const piece = openedPiece(edit);
  const seen: Seen[] = [];
  show(<Stage onSeen={(one) => seen.push(one)} />, piece);
  const now = () => seen[seen.length - 1];
  const set = (change: WeighChange) =>
    act(() => piece.store.getState().change((one) => ({ ...one, weigh: changeWeigh(one.weigh, change) })));
  return { now, set };
}

it('a movie of many frames a second that becomes a GIF has the reel of a GIF on the stage', () => {
  const { now, set } = opened((recipe) => ({
    ...recipe,
    // Twenty-five frames a second of the footage, four times as fast.
    span: { start: 0, end: 200 },
    loop: { ...recipe.loop, speed: 4 },
    weigh: changeWeigh(recipe.weigh, { kind: 'mp4', frameRate: 100 }),
  }));
  const movie = now();
  set({ kind: 'gif' });
  const gif = now();
  // A GIF counts hundredths of a second, and viewers honour two of them.
  expect(gif.frames).toBeLessThan(movie.frames);
  expect(gif.plan).not.toBe(movie.plan);
  expect(gif.plan.recipe.weigh.kind).toBe('gif');
});

it('what no frame depends on leaves the plan as it is: nothing is composed anew', () => {
  const { now, set } = opened((recipe) => recipe);
  const { plan } = now();
  set({ gif: { colors: 17 } });
  set({ webp: { quality: 9 } });
  expect(now().plan).toBe(plan);
  set({ width: 123 });
  expect(now().plan.recipe.weigh.width).toBe(plan.recipe.weigh.width);
});
