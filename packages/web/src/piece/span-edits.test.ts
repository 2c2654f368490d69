import type { FootageView, PieceView } from '@muted-pond/core/api';
import { newRecipe } from '@muted-pond/core/recipe';
import { describe, expect, it } from 'vitest';
import { createFilesStore } from '../store/files-store.js';
import { createPieceStore } from '../store/piece-store.js';
import { createSessionStore } from '../store/session-store.js';
import { endHere, setSpan, startHere, stepFrames } from './span-edits.js';

const times = { starts: Array.from({ length: 100 }, (_, i) => i / 25), duration: 4 };

function open(start: number, end: number, playhead: number) {
  const recipe = { ...newRecipe('d'.repeat(64), times), span: { start, end } };
  const piece: PieceView = {
    id: 'p',
    about: '',
    name: 'Koi',
    recipe,
    revision: 0,
    createdAt: '',
    updatedAt: '',
  };
  const store = createPieceStore(piece);
  const session = createSessionStore(playhead);
  const view = { id: 'd'.repeat(64), name: 'koi.webm', kind: 'video', width: 64, height: 36 } as FootageView;
  const workspace = { store, session, files: createFilesStore([{ view, times }]) };
  return { workspace, session, store, span: () => store.getState().recipe.span };
}

describe('marking the span', () => {
  it('starts at the frame on the stage, or moves the span there when it lies beyond the end', () => {
    const inside = open(10, 40, 22);
    startHere(inside.workspace);
    expect(inside.span()).toEqual({ start: 22, end: 40 });
    const beyond = open(10, 40, 60);
    startHere(beyond.workspace);
    expect(beyond.span()).toEqual({ start: 60, end: 90 });
    const late = open(10, 40, 90);
    startHere(late.workspace);
    expect(late.span()).toEqual({ start: 90, end: 100 });
  });

  it('ends with the frame on the stage, or moves the span there when it lies before the start', () => {
    const inside = open(10, 40, 22);
    endHere(inside.workspace);
    expect(inside.span()).toEqual({ start: 10, end: 23 });
    const before = open(50, 80, 39);
    endHere(before.workspace);
    expect(before.span()).toEqual({ start: 10, end: 40 });
    const early = open(50, 80, 5);
    endHere(early.workspace);
    expect(early.span()).toEqual({ start: 0, end: 6 });
  });

  it('by number keeps at least a frame, inside the footage, and is one undo step', () => {
    const one = open(10, 40, 0);
    setSpan(one.workspace, { start: 99, end: 40 }, 'start');
    expect(one.span()).toEqual({ start: 39, end: 40 });
    setSpan(one.workspace, { start: 39, end: 500 }, 'end');
    expect(one.span()).toEqual({ start: 39, end: 100 });
    expect(one.store.temporal.getState().pastStates).toHaveLength(2);
  });

  it('steps stop playing and end at the footage’s ends', () => {
    const { workspace, session } = open(0, 10, 2);
    stepFrames(workspace, -10);
    expect(session.getState()).toMatchObject({ playhead: 0, playing: false });
    stepFrames(workspace, 500);
    expect(session.getState().playhead).toBe(99);
  });
});
