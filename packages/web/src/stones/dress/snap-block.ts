import type { Rect, Size } from '@muted-pond/core/pixels';

/** A line that a block was caught by: across or down, a share of the frame. */
export interface Guide {
  readonly axis: 'x' | 'y';
  readonly at: number;
}

export interface Snapped {
  /** How far the block is moved beyond where the hand has it, px. */
  readonly dx: number;
  readonly dy: number;
  readonly guides: readonly Guide[];
}

/** Kept free at the edges, a share of the frame. */
export const SAFE_MARGIN = 0.05;
const LINES = [0, SAFE_MARGIN, 0.5, 1 - SAFE_MARGIN, 1];

/**
 * Where a dragged block is caught: its edges and its middle at the frame's edges, its middle and a safe margin.
 * @param reach px within which it is caught.
 */
export function snapBlock(block: Rect, frame: Size, reach: number): Snapped {
  const x = nearest(block.x, block.width, frame.width, reach);
  const y = nearest(block.y, block.height, frame.height, reach);
  return {
    dx: x?.by ?? 0,
    dy: y?.by ?? 0,
    guides: [
      ...(x ? [{ axis: 'x', at: x.at } as const] : []),
      ...(y ? [{ axis: 'y', at: y.at } as const] : []),
    ],
  };
}

function nearest(
  start: number,
  length: number,
  room: number,
  reach: number,
): { by: number; at: number } | null {
  let best: { by: number; at: number } | null = null;
  for (const at of LINES) {
    // The middle is for the middle, edges are for edges.
    const points = at === 0.5 ? [start + length / 2] : at < 0.5 ? [start] : [start + length];
    for (const point of points) {
      const by = at * room - point;
      if (Math.abs(by) <= reach && (!best || Math.abs(by) < Math.abs(best.by))) best = { by, at };
    }
  }
  return best;
}
