import type { PieceView } from '@muted-pond/core/api';
import { makeLoop, PLAIN_CUT, PLAIN_LOOP, type ReelEdit } from '@muted-pond/core/loop';
import { newRecipe } from '@muted-pond/core/recipe';
import { describe, expect, it } from 'vitest';
import type { OpenFile } from '../api/queries.js';
import { changeLoop, nudgeEnd, setJoin, speedFor, takePlace } from '../piece/loop-edits.js';
import { loopNow } from '../piece/piece-loop.js';
import { stepFrames } from '../piece/span-edits.js';
import type { Workspace } from '../piece/workspace-context.js';
import { createFilesStore } from '../store/files-store.js';
import { createPieceStore } from '../store/piece-store.js';
import { createSessionStore } from '../store/session-store.js';
import {
  addEdit,
  chosenRefs,
  itemAt,
  moveBefore,
  moveChosen,
  removeFrames,
  withEdit,
  wrapped,
} from './reel-actions.js';
import { allButNth, chosenAfter, everyNth, keyOf } from './reel-selection.js';

const HASH = 'b'.repeat(64);
const times = { starts: Array.from({ length: 100 }, (_, i) => i / 25), duration: 4 };

/** A piece of ten frames, 20 to 29, at the footage's own rate. */
function opened(): Workspace {
  const recipe = { ...newRecipe(HASH, times), span: { start: 20, end: 30 } };
  const piece = {
    id: 'p',
    name: 'Lantern',
    recipe: { ...recipe, weigh: { ...recipe.weigh, frameRate: 25 } },
  };
  const file = {
    view: { id: HASH, name: 'lantern.mp4', width: 64, height: 36 },
    times,
  } as unknown as OpenFile;
  return {
    pieceId: 'p',
    store: createPieceStore(piece as PieceView),
    files: createFilesStore([file]),
    session: createSessionStore(20),
  } as Workspace;
}
const sources = (workspace: Workspace) => loopNow(workspace)?.items.map((item) => item.source);
const items = (workspace: Workspace) => loopNow(workspace)?.items ?? [];
const keys = (...frames: number[]) => new Set(frames.map((source) => keyOf({ source, copy: 0 })));

describe('frames of the reel', () => {
  const loop = makeLoop(times, { start: 20, end: 30 }, 25, 1, PLAIN_LOOP);
  const none = { chosen: new Set<string>(), anchor: 0 };

  it('are chosen one by one, in ranges, and beside others', () => {
    const one = chosenAfter(none, loop.items, 3, 'only');
    expect(one.chosen).toEqual(keys(23));
    expect(chosenAfter(one, loop.items, 6, 'range').chosen).toEqual(keys(23, 24, 25, 26));
    expect(chosenAfter(one, loop.items, 1, 'range').chosen).toEqual(keys(21, 22, 23));
    const two = chosenAfter(one, loop.items, 8, 'add');
    expect(two.chosen).toEqual(keys(23, 28));
    expect(chosenAfter(two, loop.items, 3, 'add').chosen).toEqual(keys(28));
    expect(everyNth(loop.items, keys(21), 3)).toEqual([1, 4, 7]);
    expect(everyNth(loop.items, new Set(), 4)).toEqual([0, 4, 8]);
    expect(allButNth(loop.items, 3)).toEqual([1, 2, 4, 5, 7, 8]);
  });

  it('lie round the joint, the last on its left, the first on its right', () => {
    expect(wrapped(7)).toEqual([4, 5, 6, 0, 1, 2, 3]);
    expect(wrapped(1)).toEqual([0]);
    const back = makeLoop(times, { start: 20, end: 25 }, 25, 1, {
      ...PLAIN_LOOP,
      join: { kind: 'there-and-back' },
    });
    const shown = Array.from({ length: back.round }, (_, place) => back.items[itemAt(back, place)].source);
    expect(shown).toEqual(back.reel.map((pick) => pick.source));
  });
});

describe('work on the reel', () => {
  it('is one undo step each, and comes back', () => {
    const workspace = opened();
    removeFrames(workspace, chosenRefs(items(workspace), keys(22, 25)), false);
    expect(sources(workspace)).toEqual([20, 21, 23, 24, 26, 27, 28, 29]);
    addEdit(workspace, { kind: 'reverse', frames: chosenRefs(items(workspace), keys(20, 21)) });
    expect(sources(workspace)?.slice(0, 2)).toEqual([21, 20]);
    workspace.store.temporal.getState().undo();
    expect(sources(workspace)?.slice(0, 2)).toEqual([20, 21]);
    workspace.store.temporal.getState().undo();
    expect(sources(workspace)).toHaveLength(10);
  });

  it('that would leave nothing changes nothing', () => {
    const workspace = opened();
    removeFrames(workspace, chosenRefs(items(workspace), new Set(items(workspace).map(keyOf))), false);
    expect(sources(workspace)).toHaveLength(10);
    expect(workspace.store.temporal.getState().pastStates).toHaveLength(0);
  });

  it('moves frames a place at a time, and to where they are dropped', () => {
    const workspace = opened();
    moveChosen(workspace, keys(22, 23), 1);
    expect(sources(workspace)?.slice(0, 6)).toEqual([20, 21, 24, 22, 23, 25]);
    moveChosen(workspace, keys(22, 23), -1);
    expect(sources(workspace)?.slice(0, 6)).toEqual([20, 21, 22, 23, 24, 25]);
    moveChosen(workspace, keys(20), -1);
    expect(sources(workspace)?.[0]).toBe(20);
    moveBefore(workspace, chosenRefs(items(workspace), keys(20)), null);
    expect(sources(workspace)?.at(-1)).toBe(20);
  });

  it('takes the newest time of the same frames, rather than piling times up', () => {
    const delay = (delayCs: number): ReelEdit => ({ kind: 'delay', frames: [[20, 0, 1]], delayCs });
    expect(withEdit([delay(5)], delay(9))).toEqual([delay(9)]);
    const other: ReelEdit = { kind: 'delay', frames: [[21, 0, 1]], delayCs: 9 };
    expect(withEdit([delay(5)], other)).toEqual([delay(5), other]);
  });

  it('stays when the span changes, and says what it lost', () => {
    const workspace = opened();
    addEdit(workspace, { kind: 'delay', frames: chosenRefs(items(workspace), keys(22)), delayCs: 80 });
    addEdit(workspace, { kind: 'delay', frames: chosenRefs(items(workspace), keys(29)), delayCs: 90 });
    nudgeEnd(workspace, 'end', -2);
    expect(items(workspace).map((item) => item.delayCs)).toEqual([4, 4, 80, 4, 4, 4, 4, 4]);
    expect(loopNow(workspace)?.lost).toEqual([1]);
  });
});

describe('the loop’s settings', () => {
  it('join, nudge and take places', () => {
    const workspace = opened();
    setJoin(workspace, { kind: 'there-and-back' });
    expect(loopNow(workspace)?.round).toBe(18);
    nudgeEnd(workspace, 'start', 3);
    expect(workspace.store.getState().recipe.span).toEqual({ start: 23, end: 30 });
    takePlace(workspace, { start: 5, end: 45, join: PLAIN_CUT });
    expect(workspace.store.getState().recipe).toMatchObject({
      span: { start: 5, end: 45 },
      loop: { join: PLAIN_CUT },
    });
    expect(workspace.session.getState()).toMatchObject({ place: 0, playhead: 5 });
  });

  it('make a span last as long as it is told', () => {
    const workspace = opened();
    changeLoop(workspace, { speed: speedFor(0.4, 1) });
    const length = loopNow(workspace)?.reel.reduce((sum, pick) => sum + pick.delayCs, 0);
    expect(length).toBe(100);
  });

  it('steps through the reel, round the joint, where the reel is worked on', () => {
    const workspace = opened();
    setJoin(workspace, { kind: 'there-and-back' });
    workspace.session.getState().walkOn('reel');
    stepFrames(workspace, -1);
    expect(workspace.session.getState()).toMatchObject({ place: 17, playhead: 21, playing: false });
    stepFrames(workspace, 1);
    expect(workspace.session.getState()).toMatchObject({ place: 0, playhead: 20 });
  });
});
