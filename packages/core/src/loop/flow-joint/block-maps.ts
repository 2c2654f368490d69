import { type LumaPicture, resizedPlane } from '../../motion/index.js';
import { boxMean, type Size } from '../../pixels/index.js';
import { type Blocks, GHOST_BLOCK } from '../looks/index.js';

/** The blocks around each, itself among them, so many to each side. */
export function forNear(
  { columns, rows }: Blocks,
  radius: number,
  visit: (b: number, near: number) => void,
): void {
  for (let b = 0; b < columns * rows; b++) {
    const [column, row] = [b % columns, Math.floor(b / columns)];
    for (let y = Math.max(0, row - radius); y <= Math.min(rows - 1, row + radius); y++) {
      for (let x = Math.max(0, column - radius); x <= Math.min(columns - 1, column + radius); x++) {
        visit(b, y * columns + x);
      }
    }
  }
}

/** The largest value around each block. */
export function largestNear(blocks: Blocks, radius: number): Float32Array {
  const out = blocks.values.slice();
  forNear(blocks, radius, (b, near) => {
    out[b] = Math.max(out[b], blocks.values[near]);
  });
  return out;
}

/** The mean of each block with those that touch it. */
export function meanNear(blocks: Blocks): Float32Array {
  return boxMean(Float32Array.from(blocks.values), { width: blocks.columns, height: blocks.rows }, 1, 1);
}

/**
 * Blocks as pixels, without edges: what is 1 stays so, and fades towards its neighbours.
 * @param looks the size of the looks that the blocks lie on.
 */
export function softPixels(blocks: Blocks, looks: Size, to: Size): Float32Array {
  const near = meanNear(blocks);
  const soft = near.map((value, b) => Math.max(value, 0.5 * (value + blocks.values[b])));
  return blockPixels({ ...blocks, values: soft }, looks, to);
}

/** Blocks as pixels, bilinear between their centres. */
export function blockPixels({ columns, rows, values }: Blocks, looks: Size, to: Size): Float32Array {
  // The last blocks may reach beyond the picture.
  const whole: Size = {
    width: Math.round((columns * GHOST_BLOCK * to.width) / looks.width),
    height: Math.round((rows * GHOST_BLOCK * to.height) / looks.height),
  };
  const plane: LumaPicture = { width: columns, height: rows, values };
  const wide = resizedPlane(plane, whole);
  const out = new Float32Array(to.width * to.height);
  for (let y = 0; y < to.height; y++) {
    const from = Math.min(y, whole.height - 1) * whole.width;
    for (let x = 0; x < to.width; x++) out[y * to.width + x] = wide[from + Math.min(x, whole.width - 1)];
  }
  return out;
}
