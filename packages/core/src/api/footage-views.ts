/** Longer side of working frames at most, px: what the interface works on until a file is made. */
export const WORKING_LONG_SIDE = 960;

/** How many pictures of the strip's first look are there. */
export interface StripProgress {
  readonly count: number;
  readonly made: number;
}

export interface FootageView {
  /** SHA-256 of the file's bytes. */
  readonly id: string;
  readonly name: string;
  readonly kind: 'video' | 'animation' | 'picture';
  readonly bytes: number;
  readonly container: string;
  readonly codec: string;
  /** Upright, square pixels. */
  readonly width: number;
  readonly height: number;
  readonly hasAlpha: boolean;
  readonly frameCount: number;
  readonly seconds: number;
  /** Mean frames a second. */
  readonly frameRate: number;
  readonly variableRate: boolean;
  /** How often an animation says that it plays, 0 without end; null for others. */
  readonly plays: number | null;
  /**
   * Where the file ends before all is there that it promises, in words: “it breaks off after 4.5 s of 29.6
   * s”.
   */
  readonly breaksOff: string | null;
  /** What was done to show it right, in words. */
  readonly notes: readonly string[];
  /**
   * What is wrong with the file on the disk; null where it is as it was brought in. Bringing it in again
   * mends it.
   */
  readonly problem: 'missing' | 'damaged' | null;
  readonly strip: StripProgress;
  /** Strip and working frames are made as far as they are made ahead. */
  readonly ready: boolean;
  readonly addedAt: string;
}

/** When each source frame appears, seconds from the first. */
export interface FootageTimes {
  readonly starts: readonly number[];
  readonly duration: number;
}

/** Where footage moves: a part's number for every place, row-major, as base64. */
export interface MotionView {
  readonly width: number;
  readonly height: number;
  readonly labels: string;
  /** The largest first; its number is its place and one. */
  readonly parts: readonly { readonly area: number; readonly spread: number }[];
}
