import type { SavingFamily } from '../derived/index.js';
import type { FileKindId, KindSavingName } from '../files/index.js';
import type { Recipe } from '../recipe/index.js';
import type { FitKind } from '../weigh/index.js';
import type { JobView } from './job-view.js';

/** Files of a piece under a limit: being looked for, or found. */
export interface FitView extends JobView {
  /** What is being done. */
  readonly doing: string;
  /** As far as they were found, each a finished trial. */
  readonly offers: readonly FitOffer[];
}

/** A file under the limit that gives up one thing rather than another. */
export interface FitOffer {
  readonly kind: FitKind;
  readonly trial: string;
  /** Full encodes it took. */
  readonly encodes: number;
}

/** The same loop in one kind of file. */
export interface KindMade {
  readonly kind: FileKindId;
  /** A finished trial; null where it could not be made. */
  readonly trial: string | null;
  /** Why there is none, and what would help. */
  readonly problem: string | null;
}

/** The same loop in all kinds of file: being made, or made. */
export interface KindsView extends JobView {
  /** What is being done. */
  readonly doing: string;
  /** As far as they were made. */
  readonly made: readonly KindMade[];
}

/** What one change alone would make of a file's weight, measured. */
export interface Saving {
  readonly kind: KindSavingName | 'narrower' | 'fewer-frames' | 'shorter' | 'steady' | 'look';
  readonly recipe: Recipe;
  readonly bytes: number;
}

/** What would help a piece's file most: being tried out, or known. */
export interface SavingsView extends JobView {
  readonly of: SavingFamily;
  readonly doing: string;
  /** Of the file as it is. */
  readonly bytes: number;
  /** The most first. */
  readonly savings: readonly Saving[];
}
