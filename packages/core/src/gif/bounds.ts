import type { Rect } from './writer.js';

/** The smallest rectangle of the pixels that are meant; null where none is. Looks inwards from each side. */
export function boundsOf(width: number, height: number, isMeant: (pixel: number) => boolean): Rect | null {
  const rowHas = (y: number) => {
    for (let p = y * width; p < (y + 1) * width; p++) if (isMeant(p)) return true;
    return false;
  };
  let top = 0;
  while (top < height && !rowHas(top)) top++;
  if (top === height) return null;
  let bottom = height - 1;
  while (!rowHas(bottom)) bottom--;
  const columnHas = (x: number) => {
    for (let y = top; y <= bottom; y++) if (isMeant(y * width + x)) return true;
    return false;
  };
  let left = 0;
  while (!columnHas(left)) left++;
  let right = width - 1;
  while (!columnHas(right)) right--;
  return { left, top, width: right - left + 1, height: bottom - top + 1 };
}
