import type { Fit, Focus, Matte, Size } from '../pixels/index.js';

/** One video or animation, by the SHA-256 of its bytes, lower-case hexadecimal. */
export interface FootageSource {
  readonly kind: 'footage';
  readonly hash: string;
  /** 1 takes every frame of the span, n its first and then every n-th, each shown until the next. */
  readonly every: number;
}

/** One picture among stills. */
export interface StillPicture {
  readonly hash: string;
  /** Its own rule; null follows the one of all. */
  readonly fit: Fit | null;
  /** Which part stays in sight when something is cut off. */
  readonly focus: Focus;
}

/** Pictures as frames, on one canvas. */
export interface StillsSource {
  readonly kind: 'stills';
  /** In the order in which they are shown. */
  readonly pictures: readonly StillPicture[];
  readonly canvas: Size;
  readonly fit: Fit;
  readonly matte: Matte;
  /** How long each picture is shown, centiseconds, 2–65535. */
  readonly delayCs: number;
}

export type Source = FootageSource | StillsSource;
