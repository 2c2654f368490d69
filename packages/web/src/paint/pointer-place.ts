import type { Rect, Turn } from '@muted-pond/core/pixels';

interface Shown {
  readonly part: Rect;
  readonly turn: Turn;
  readonly mirror: boolean;
}

/** The place on the take, in its pixels, that lies at a share of the shown picture. */
export function placeOnTake({ part, turn, mirror }: Shown, x: number, y: number): { x: number; y: number } {
  const across = mirror ? 1 - x : x;
  const [u, v] = {
    0: [across, y],
    90: [y, 1 - across],
    180: [1 - across, 1 - y],
    270: [1 - y, across],
  }[turn];
  return { x: part.x + u * part.width, y: part.y + v * part.height };
}

/** Where a place of the take, in its pixels, lies on the shown picture, in shares of it. */
export function placeOnShown({ part, turn, mirror }: Shown, x: number, y: number): { x: number; y: number } {
  const u = (x - part.x) / part.width;
  const v = (y - part.y) / part.height;
  const [across, down] = {
    0: [u, v],
    90: [1 - v, u],
    180: [1 - u, 1 - v],
    270: [v, 1 - u],
  }[turn];
  return { x: mirror ? 1 - across : across, y: down };
}
