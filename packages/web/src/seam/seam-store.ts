import { type LoopLength, USUAL_LOOP_LENGTH } from '@muted-pond/core/loop';
import { createStore, type StoreApi } from 'zustand';
import type { FoundRounds, SeamAnswer } from './seam-work.js';

/** What is known of the piece's seams, and where loops are looked for. Belongs to this window. */
export interface SeamState {
  /**
   * `none`: stills, or footage of one frame; `failed`: the footage cannot be read, or looking for them went
   * wrong.
   */
  readonly status: 'none' | 'reading' | 'ready' | 'failed';
  /** What went wrong, and what can be done, where it failed. */
  readonly problem: string | null;
  readonly answer: SeamAnswer | null;
  /** The answer is of settings before the present ones. */
  readonly stale: boolean;
  readonly within: 'span' | 'anywhere';
  readonly length: LoopLength;
  /** Looks for a loop of its own for each shown ripple; null while the footage is read. */
  readonly findRounds: (() => Promise<FoundRounds | null>) | null;
  lookWithin(within: 'span' | 'anywhere'): void;
  lookFor(length: LoopLength): void;
}

export type SeamStore = StoreApi<SeamState>;

export function createSeamStore(): SeamStore {
  return createStore<SeamState>()((set) => ({
    status: 'none',
    problem: null,
    answer: null,
    stale: false,
    within: 'anywhere',
    length: USUAL_LOOP_LENGTH,
    findRounds: null,
    lookWithin: (within) => set({ within }),
    lookFor: (length) => set({ length }),
  }));
}
