// @vitest-environment jsdom
import { act } from '@testing-library/react';
import { expect, it } from 'vitest';
import type { StagePlan } from '../pictures/composed-frames.js';
import { openedPiece, show } from '../testing/screen.js';
import { isClosed, openBitmap, openComposed, planOf } from '../testing/scripted-composer.js';
import { type ComposedPlace, useComposedPlace } from './use-stage-plan.js';

const onProblem = () => {};

interface StageProps {
  readonly plan: StagePlan;
  readonly place: number;
  readonly onSeen: (place: ComposedPlace | null) => void;
}

function Stage({ plan, place, onSeen }: StageProps) {
  onSeen(useComposedPlace(plan, place, onProblem));
  return null;
}

/** A stage over plans and places, whose worker answers when it is told to. */
function stage() {
  const { frames: composed, workers } = openComposed();
  const piece = { ...openedPiece(), composed };
  let now: { plan: StagePlan; place: number } = { plan: planOf(), place: 0 };
  let seen: ComposedPlace | null = null;
  const onSeen = (place: ComposedPlace | null) => {
    seen = place;
  };
  const shown = show(<Stage {...now} onSeen={onSeen} />, piece);
  let plans = 1;
  return {
    composed,
    unmount: shown.unmount,
    seen: () => seen,
    look(plan: StagePlan, place: number) {
      if (plan !== now.plan) plans++;
      now = { plan, place };
      act(() => shown.rerender(shown.inside(<Stage {...now} onSeen={onSeen} />)));
    },
    /** The worker makes the picture that is looked at. */
    async answer() {
      const frame = openBitmap();
      await act(async () => {
        workers[0].reply({
          ...{ type: 'composed', plan: plans, place: now.place },
          pictures: { frame, blocks: [], layers: null },
        });
      });
      return frame;
    },
    now: () => now,
  };
}

it('keeps what is shown while the next plan is made, and lets go of it when that is there', async () => {
  const { look, answer, seen, unmount } = stage();
  const first = await answer();
  expect(seen()?.pictures.frame).toBe(first);
  look(planOf(), 0);
  // The plan before has been left; its picture is still on the stage.
  expect(seen()?.pictures.frame).toBe(first);
  expect(isClosed(first)).toBe(false);
  const second = await answer();
  expect(seen()?.pictures.frame).toBe(second);
  expect([isClosed(first), isClosed(second)]).toEqual([true, false]);
  look(planOf(), 0);
  unmount();
  expect(isClosed(second)).toBe(true);
});

it('keeps the places of a plan open while they go by', async () => {
  const { look, answer, seen, now } = stage();
  const { plan } = now();
  const frames = [await answer()];
  for (const place of [1, 2]) {
    look(plan, place);
    frames.push(await answer());
    expect(seen()?.place).toBe(place);
  }
  look(plan, 0);
  await act(async () => {});
  expect(seen()?.pictures.frame).toBe(frames[0]);
  expect(frames.map(isClosed)).toEqual([false, false, false]);
});

it('a thousand plans under a moving hand leave one picture open', async () => {
  const { look, answer } = stage();
  const made = [await answer()];
  for (let move = 0; move < 1000; move++) {
    look(planOf(), 0);
    made.push(await answer());
  }
  expect(made.filter((frame) => !isClosed(frame))).toEqual([made[1000]]);
});
