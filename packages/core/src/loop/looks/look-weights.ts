import type { Rect, Size } from '../../pixels/index.js';

/** A table of how much each place counts, 0–255, row by row over the whole picture. */
export interface Places extends Size {
  readonly values: Uint8Array;
}

/**
 * How much each pixel of a look counts for a joint, 0–1; null where all of it does.
 * @param part what is seen of the picture, in shares of its width and height.
 * @param moving what moves of a picture that is held; null where all of it does.
 */
export function lookWeights(look: Size, part: Rect, moving: Places | null): Float32Array | null {
  const isWhole = part.x <= 0 && part.y <= 0 && part.x + part.width >= 1 && part.y + part.height >= 1;
  if (isWhole && !moving) return null;
  const weights = new Float32Array(look.width * look.height);
  for (let row = 0, p = 0; row < look.height; row++) {
    const y = (row + 0.5) / look.height;
    for (let column = 0; column < look.width; column++, p++) {
      const x = (column + 0.5) / look.width;
      const isSeen = x >= part.x && y >= part.y && x <= part.x + part.width && y <= part.y + part.height;
      if (isSeen) weights[p] = moving ? placeAt(moving, x, y) : 1;
    }
  }
  return weights;
}

/** @param x and y shares of the picture. */
function placeAt({ width, height, values }: Places, x: number, y: number): number {
  return values[Math.floor(y * height) * width + Math.floor(x * width)] / 255;
}
