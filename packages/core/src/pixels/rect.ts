import type { Size } from './size.js';

/** A rectangle in pixels and their fractions; `x`, `y` is its top left corner. */
export interface Rect extends Size {
  readonly x: number;
  readonly y: number;
}

/** What two rectangles share; null where they only touch or lie apart. */
export function intersect(a: Rect, b: Rect): Rect | null {
  const x = Math.max(a.x, b.x);
  const y = Math.max(a.y, b.y);
  const width = Math.min(a.x + a.width, b.x + b.width) - x;
  const height = Math.min(a.y + a.height, b.y + b.height) - y;
  return width > 0 && height > 0 ? { x, y, width, height } : null;
}

/**
 * The largest whole-pixel rectangle inside the bounds that is the wanted one moved and trimmed; at least 1 ×
 * 1 px.
 */
export function fitRect(wanted: Rect, bounds: Size): Rect {
  const width = Math.max(1, Math.min(bounds.width, Math.round(wanted.width)));
  const height = Math.max(1, Math.min(bounds.height, Math.round(wanted.height)));
  return {
    x: Math.max(0, Math.min(bounds.width - width, Math.round(wanted.x))),
    y: Math.max(0, Math.min(bounds.height - height, Math.round(wanted.y))),
    width,
    height,
  };
}
