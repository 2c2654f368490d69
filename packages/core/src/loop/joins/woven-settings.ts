import type { Span } from '../../timing/index.js';

/** Holds something, or sets it free, whatever the solver would do. */
export interface WovenTouch {
  readonly moves: boolean;
  /** Where the hand went, in shares of the take's width and height. */
  readonly points: readonly (readonly [x: number, y: number])[];
  /** Half the width of the stroke, in shares of the take's width; null: the whole part that lies there. */
  readonly radius: number | null;
}

/** Each small part of the picture goes round in its own time within one common length, or stands still. */
export interface Woven {
  readonly kind: 'per-pixel';
  /** Frames of the footage in one round; the span only says where they may come from. */
  readonly frames: number;
  /** How much moves: squared usual steps by which a part may jump; one that would jump farther stands still. */
  readonly liveliness: number;
  /** The frame of the footage that still parts show; null: the one that suits best. What is held comes first. */
  readonly plate: number | null;
  /** Whether camera and light are taken out where nothing is held. */
  readonly steady: boolean;
  readonly touches: readonly WovenTouch[];
}

export const WOVEN_LIMITS = {
  frames: { min: 4, max: 600, usual: 60 },
  liveliness: { min: 2, max: 64, usual: 16 },
} as const;
/** Frames of the span at both ends in which no round may start: melts and comparisons reach into them. */
export const WOVEN_ROOM = 6;
/** Frames of a span that are looked at, from its start. */
export const MOST_WOVEN = 400;
/** How many frames a span lacks for a round of so many; 0 where it has enough. */
export function framesMissing({ start, end }: Span, frames: number): number {
  return Math.max(0, frames + 2 * WOVEN_ROOM + 1 - (Math.min(end, start + MOST_WOVEN) - start));
}
