import type { PieceSave, PieceView } from '@muted-pond/core/api';
import { createStore, type StoreApi } from 'zustand';
import { ApiProblem, type CallOptions, canOutlive } from '../api/client.js';
import { type RetryPolicy, retryAfter } from '../api/retry.js';
import { sentenceOf } from '../ui/sentence.js';
import { documentOf, isSameDocument, type PieceDocument, type PieceStore } from './piece-store.js';

export type SaveState =
  | { readonly type: 'saved' }
  | { readonly type: 'saving' }
  /** The save failed; `again` where it will be retried automatically. */
  | { readonly type: 'failed'; readonly message: string; readonly again: boolean }
  | { readonly type: 'conflict'; readonly theirs: PieceView };

/** The dependencies of autosave; tests give their own. */
export interface SaveDoors {
  save(id: string, save: PieceSave, options: CallOptions): Promise<PieceView>;
  /** Calls back after the hand has rested. @returns a function that takes the call back. */
  later(run: () => void, ms: number): () => void;
}

export interface Autosave {
  readonly state: StoreApi<SaveState>;
  /** Saves what is not saved yet, now. */
  flush(options?: CallOptions): Promise<void>;
  /** After a save that failed: now, and as patiently as the first time. */
  tryAgain(): void;
  /** Whether something is not saved that would not arrive from a page that is gone. */
  wouldBeLost(): boolean;
  /** In a conflict: this window's piece stays. */
  keepMine(): Promise<void>;
  /** In a conflict: the other window's piece is taken over here. */
  takeTheirs(): void;
  stop(): void;
}

const REST_MS = 350;
const RETRIES: RetryPolicy = { firstMs: 3000, longestMs: 60_000, most: 12 };
/** Status codes of temporary failures. */
const PASSING = [0, 408, 425, 429];

/** Saves every change automatically, one save at a time, each with the revision it is based on. */
export function createAutosave(store: PieceStore, opened: PieceView, doors: SaveDoors): Autosave {
  const state = createStore<SaveState>(() => ({ type: 'saved' }));
  let revision = opened.revision;
  /**
   * The state on the server; null while it is unknown, since a save may have arrived whose answer was lost.
   */
  let kept: PieceDocument | null = documentOf(store.getState());
  let sentLast: PieceDocument | null = null;
  let takeBack = () => {};
  let running: Promise<void> | null = null;
  let failures = 0;

  const isDirty = () => kept === null || !isSameDocument(store.getState(), kept);
  const schedule = (ms: number) => {
    takeBack();
    takeBack = doors.later(() => void flush(), ms);
  };

  /** All is saved. */
  function settle(): void {
    takeBack();
    failures = 0;
    state.setState({ type: 'saved' }, true);
  }

  /** A save of this window had arrived, and only its answer was lost. */
  function takeOver({ revision: theirs, ...piece }: PieceView): void {
    revision = theirs;
    kept = documentOf(piece);
    settle();
  }

  async function saveOnce(options: CallOptions): Promise<void> {
    const sent = documentOf(store.getState());
    const before = sentLast;
    sentLast = sent;
    state.setState({ type: 'saving' }, true);
    try {
      const piece = await doors.save(opened.id, { revision, ...sent }, options);
      revision = piece.revision;
      kept = sent;
      settle();
    } catch (error) {
      if (error instanceof ApiProblem && error.code === 'stale') {
        const { current } = error.body as { current: PieceView };
        if (before && isSameDocument(documentOf(current), before)) takeOver(current);
        else state.setState({ type: 'conflict', theirs: current }, true);
        return;
      }
      if (mayHaveArrived(error)) kept = null;
      // It was undone meanwhile: nothing is left to be saved.
      if (!isDirty()) {
        settle();
        return;
      }
      const wait = mayPass(error) ? retryAfter(++failures, RETRIES) : null;
      const message = sentenceOf(error);
      state.setState({ type: 'failed', message, again: wait !== null }, true);
      if (wait !== null) schedule(wait);
    }
  }

  async function flush(options: CallOptions = {}): Promise<void> {
    takeBack();
    // Of several that wait, one saves; the others wait again, or two would name the same revision.
    while (running) await running;
    if (!isDirty() || state.getState().type === 'conflict') return;
    running = saveOnce(options).finally(() => {
      running = null;
    });
    await running;
    if (isDirty() && state.getState().type === 'saved') schedule(REST_MS);
  }

  const unsubscribe = store.subscribe((now, before) => {
    if (isSameDocument(now, before)) return;
    if (state.getState().type === 'conflict') return;
    if (!isDirty() && !running) {
      settle();
      return;
    }
    state.setState({ type: 'saving' }, true);
    schedule(REST_MS);
  });

  return {
    state,
    flush,
    tryAgain() {
      failures = 0;
      void flush();
    },
    wouldBeLost() {
      if (!isDirty()) return false;
      return state.getState().type === 'failed' || !canOutlive(JSON.stringify(documentOf(store.getState())));
    },
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
      store.setState({ ...documentOf(theirs), draft: null });
      kept = documentOf(store.getState());
      takeBack();
      state.setState({ type: 'saved' }, true);
    },
    stop() {
      takeBack();
      unsubscribe();
    },
  };
}

/** Whether a save that failed may succeed as it is. */
function mayPass(error: unknown): boolean {
  if (!(error instanceof ApiProblem)) return true;
  return error.status >= 500 || PASSING.includes(error.status);
}

/** Whether the server may have kept a save all the same: no answer came, or one of somebody in between. */
function mayHaveArrived(error: unknown): boolean {
  return !(error instanceof ApiProblem) || error.status === 0 || error.status === 502 || error.status === 504;
}
