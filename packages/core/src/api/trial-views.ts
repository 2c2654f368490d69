import type { FileKindId, ShownAs } from '../files/index.js';
import type { Recipe } from '../recipe/index.js';
import type { SteadyFigures } from '../render/index.js';
import type { ToldView } from './job-view.js';

/** What a finished trial measured on the file itself. */
export interface TrialFigures {
  readonly kind: FileKindId;
  readonly bytes: number;
  readonly width: number;
  readonly height: number;
  readonly frames: number;
  readonly durationMs: number;
  /** Some of it is transparent; missing in trials of earlier versions. */
  readonly hasAlpha?: boolean;
  /** In the largest palette; null where a file has none. */
  readonly colors: number | null;
  /**
   * SSIM against the full-colour reel at the file's own size, 0–1. Not to be compared across sizes: see
   * SeenLikeness.
   */
  readonly likeness: number;
  /** Null where nothing was steadied. */
  readonly steady: SteadyFigures | null;
  /** Bytes of each frame of the reel. */
  readonly frameBytes: readonly number[];
  /** sRGB hexadecimal, #rrggbb. */
  readonly palette: readonly string[];
  /** How many palettes those are in; one in older files. */
  readonly palettes?: number;
  /** Part of all pixels that each palette colour is, 0–1; missing in trials of earlier versions. */
  readonly paletteShares?: readonly number[];
  readonly ms: {
    readonly decode: number;
    readonly compose: number;
    readonly encode: number;
    readonly total: number;
  };
}

/**
 * How close a file is to the full-colour reel when both are seen at one size, so that files of any size can
 * be compared.
 */
export interface SeenLikeness {
  /** Width at which it was measured, px: that of the widest trial of the piece then. */
  readonly width: number;
  /** SSIM, 0–1; null where it could not be measured. */
  readonly value: number | null;
  /** Why it could not be measured, for a person; missing where it was. */
  readonly problem?: string;
}

export type TrialState = 'waiting' | 'working' | 'done' | 'failed' | 'interrupted';

export interface TrialView extends ToldView {
  readonly id: string;
  readonly piece: string;
  /** A, B, C …; then AA. */
  readonly letter: string;
  /** Given by hand. */
  readonly name: string | null;
  /** Never thrown away by itself. */
  readonly pinned: boolean;
  readonly state: TrialState;
  /** Of the file that it is: the same as that of every recipe whose file has the same bytes. */
  readonly key: string;
  readonly recipe: Recipe;
  /** Of its kind of file. */
  readonly shownAs: ShownAs;
  readonly figures: TrialFigures | null;
  /** Null until it is measured at the width of the piece's widest trial. */
  readonly seen: SeenLikeness | null;
  /** Why it failed, for a person. */
  readonly problem: string | null;
  readonly progress: TrialProgress | null;
  readonly createdAt: string;
}

/** How far a trial in the making is. */
export interface TrialProgress {
  /** 0–1. */
  readonly done: number;
  readonly doing: string;
  /** The finished file, which can be had already while it is compared with its source. */
  readonly file?: Pick<TrialFigures, 'kind' | 'width' | 'height' | 'bytes'>;
}
