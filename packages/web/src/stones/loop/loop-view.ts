import type { Span } from '@muted-pond/core/timing';
import { createPieceView } from '../../store/piece-view.js';
import type { SliceLine } from './slice-line.js';

export const LOOKS = ['play', 'ends', 'ghost', 'difference', 'slice', 'map', 'where', 'fallen'] as const;
/** How the joint is looked at. */
export type Look = (typeof LOOKS)[number];

export const AMPLIFICATIONS = [1, 2, 4, 8] as const;

/** How the loop is looked at. */
interface LoopView {
  /** The joint over the footage, or the reel frame by frame. */
  readonly tab: 'seam' | 'frames';
  readonly look: Look;
  /** How much of the last frame lies over the first, 0–1. */
  readonly ghost: number;
  /** How many times larger a difference is shown. */
  readonly amplified: number;
  /** What a slice through time is taken along; null: the line that is proposed. */
  readonly line: SliceLine | null;
  /** Plays only the last and the first half second. */
  readonly jointOnly: boolean;
  /** A candidate under the pointer: it plays instead of the span. */
  readonly tried: Span | null;
}

export const useLoopView = createPieceView<LoopView>(
  {
    tab: 'seam',
    look: 'play',
    ghost: 0.5,
    amplified: 4,
    line: null,
    jointOnly: false,
    tried: null,
  },
  ['ghost', 'amplified'],
);

export function setLoopView(part: Partial<LoopView>): void {
  useLoopView.setState(part);
}

/** The same look again is playing. */
export function toggleLook(look: Look): void {
  useLoopView.setState((view) => ({ look: view.look === look ? 'play' : look }));
}
