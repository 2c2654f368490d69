import type { PieceSave, PieceView } from '@muted-pond/core/api';
import { createStore, type StoreApi } from 'zustand';
import { ApiProblem } from '../api/client.js';
import type { PieceDocument, PieceStore } from './piece-store.js';

export type SaveState =
  | { readonly type: 'saved' }
  | { readonly type: 'saving' }
  | { readonly type: 'failed'; readonly message: string }
  | { readonly type: 'conflict'; readonly theirs: PieceView };

/** What autosave needs from outside; tests give their own. */
export interface SaveDoors {
  save(id: string, save: PieceSave): Promise<PieceView>;
  /** Calls back after the hand has rested. @returns a function that takes the call back. */
  later(run: () => void, ms: number): () => void;
}

export interface Autosave {
  readonly state: StoreApi<SaveState>;
  /** Saves what is not saved yet, now. */
  flush(): Promise<void>;
  /** In a conflict: this window's piece stays. */
  keepMine(): Promise<void>;
  /** In a conflict: the other window's piece is taken over here. */
  takeTheirs(): void;
  stop(): void;
}

const REST_MS = 350;
const RETRY_MS = 3000;

/** Saves every change by itself, one save at a time, each naming the revision it came from. */
export function createAutosave(store: PieceStore, opened: PieceView, doors: SaveDoors): Autosave {
  const state = createStore<SaveState>(() => ({ type: 'saved' }));
  let revision = opened.revision;
  let kept: PieceDocument = documentOf(store);
  let takeBack = () => {};
  let running: Promise<void> | null = null;

  const isDirty = () => {
    const now = documentOf(store);
    return now.recipe !== kept.recipe || now.name !== kept.name;
  };
  const schedule = (ms: number) => {
    takeBack();
    takeBack = doors.later(() => void flush(), ms);
  };

  async function saveOnce(): Promise<void> {
    const sent = documentOf(store);
    state.setState({ type: 'saving' }, true);
    try {
      const piece = await doors.save(opened.id, { revision, ...sent });
      revision = piece.revision;
      kept = sent;
      state.setState({ type: 'saved' }, true);
    } catch (error) {
      if (error instanceof ApiProblem && error.code === 'stale') {
        state.setState({ type: 'conflict', theirs: (error.body as { current: PieceView }).current }, true);
        return;
      }
      state.setState(
        { type: 'failed', message: error instanceof Error ? error.message : String(error) },
        true,
      );
      schedule(RETRY_MS);
    }
  }

  async function flush(): Promise<void> {
    takeBack();
    // Of several that wait, one saves; the others wait again, or two would name the same revision.
    while (running) await running;
    if (!isDirty() || state.getState().type === 'conflict') return;
    running = saveOnce().finally(() => {
      running = null;
    });
    await running;
    if (isDirty() && state.getState().type === 'saved') schedule(REST_MS);
  }

  const unsubscribe = store.subscribe((now, before) => {
    if (now.recipe === before.recipe && now.name === before.name) return;
    if (state.getState().type === 'conflict' || !isDirty()) return;
    state.setState({ type: 'saving' }, true);
    schedule(REST_MS);
  });

  return {
    state,
    flush,
    async keepMine() {
      const now = state.getState();
      if (now.type !== 'conflict') return;
      revision = now.theirs.revision;
      state.setState({ type: 'saving' }, true);
      await flush();
    },
    takeTheirs() {
      const now = state.getState();
      if (now.type !== 'conflict') return;
      const { theirs } = now;
      revision = theirs.revision;
      store.setState({ name: theirs.name, recipe: theirs.recipe, draft: null });
      kept = documentOf(store);
      takeBack();
      state.setState({ type: 'saved' }, true);
    },
    stop() {
      takeBack();
      unsubscribe();
    },
  };
}

function documentOf(store: PieceStore): PieceDocument {
  const { name, recipe } = store.getState();
  return { name, recipe };
}
