import { type LoopLength, USUAL_LOOP_LENGTH } from '@muted-pond/core/loop';
import { createStore, type StoreApi } from 'zustand';
import type { BetterSeams, MeasuredSeam } from './seam-measure.js';
import type { FoundRounds, SeamFound } from './seam-work.js';

/** What is known of the piece's seams, and where loops are looked for. Belongs to this window. */
export interface SeamState {
  /**
   * `none`: stills, or footage of one frame; `failed`: the footage cannot be read, or looking for them went
   * wrong.
   */
  readonly status: 'none' | 'reading' | 'ready' | 'failed';
  /** What went wrong, and what can be done, where it failed. */
  readonly problem: string | null;
  readonly found: SeamFound | null;
  /** Null until the joint is measured, or where looks cannot be had. */
  readonly measured: MeasuredSeam | null;
  /** Why it could not be measured; null where it can. */
  readonly unmeasured: string | null;
  /** Null until something better was looked for. */
  readonly better: BetterSeams | null;
  /** What was found is of settings before the present ones; and what was measured is. */
  readonly stale: boolean;
  readonly isMeasureStale: boolean;
  readonly within: 'span' | 'anywhere';
  readonly length: LoopLength;
  /** Looks for a loop of its own for each shown ripple; null while the footage is read. */
  readonly findRounds: (() => Promise<FoundRounds | null>) | null;
  lookWithin(within: 'span' | 'anywhere'): void;
  lookFor(length: LoopLength): void;
}

export type SeamStore = StoreApi<SeamState>;

/** Of footage that is not read, or that is read anew. */
export const NOTHING_KNOWN = { found: null, measured: null, unmeasured: null, better: null };

export function createSeamStore(): SeamStore {
  return createStore<SeamState>()((set) => ({
    status: 'none',
    problem: null,
    ...NOTHING_KNOWN,
    stale: false,
    isMeasureStale: false,
    within: 'anywhere',
    length: USUAL_LOOP_LENGTH,
    findRounds: null,
    lookWithin: (within) => set({ within }),
    lookFor: (length) => set({ length }),
  }));
}
