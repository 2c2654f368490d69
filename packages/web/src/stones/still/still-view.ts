import { createPieceView } from '../../store/piece-view.js';

export type StillLook = 'muted' | 'plain' | 'split';
export type StillTool = 'brush' | 'outline' | 'pick';

/** How ripples and plate are looked at and painted. */
interface StillView {
  /**
   * Held parts grey and dim; as they will be; or as filmed on the left of a line and as they will be on its
   * right.
   */
  readonly look: StillLook;
  /** Where that line stands, share of the width. */
  readonly splitAt: number;
  /** The plate half-transparent over the playing footage. */
  readonly ghost: boolean;
  readonly tool: StillTool;
  /** A retouched plate makes room for the frame it was made from. */
  readonly asFilmed: boolean;
  readonly way: 'stir' | 'calm';
  /** Width of the brush, px of the take. */
  readonly size: number;
  /** Shares, 0–1. */
  readonly softness: number;
  readonly strength: number;
  /** The ripple that paint goes to; null makes a new one. */
  readonly active: string | null;
  /** The frame that a first stroke holds while the hand is down; null where there is none. */
  readonly firstHeld: number | null;
}

export const useStillView = createPieceView<StillView>(
  {
    look: 'muted',
    splitAt: 0.5,
    asFilmed: false,
    ghost: false,
    tool: 'brush',
    way: 'stir',
    size: 90,
    softness: 0.5,
    strength: 1,
    active: null,
    firstHeld: null,
  },
  ['look', 'splitAt', 'tool', 'way', 'size', 'softness', 'strength'],
);

export const BRUSH_SIZES = { min: 4, max: 600 } as const;

export function setStillView(part: Partial<StillView>): void {
  useStillView.setState(part);
}

export function resizeBrush(factor: number): void {
  useStillView.setState(({ size }) => ({
    size: Math.round(Math.max(BRUSH_SIZES.min, Math.min(BRUSH_SIZES.max, size * factor))),
  }));
}
