import type { PixelFrame } from '../pixels/index.js';

/** Side of the squares in which texture is measured, px. */
const SIDE = 8;
/** Frames looked at, spread over the reel. */
const MOMENTS = 6;
/** Luma variance at which texture begins to hide change, squared levels. */
const KNEE = 100;
/** The largest factor. */
const MOST = 6;

/**
 * How much change texture hides, per pixel: 1 on flat ground, more where the picture is busy. An error counts
 * against the local variance (Wang et al. 2004, equation 6: the structure term divides by it), so the same
 * visible error allows a larger difference there.
 *
 * @returns one factor a pixel, row-major, from squares of 8×8 px blended into each other.
 */
export function measureMasking(frames: readonly PixelFrame[]): Float32Array {
  const { width, height } = frames[0];
  const across = Math.ceil(width / SIDE);
  const down = Math.ceil(height / SIDE);
  const factors = new Float32Array(across * down);
  const moments = Math.min(MOMENTS, frames.length);
  for (let m = 0; m < moments; m++) {
    const frame = frames[Math.floor(((m + 0.5) * frames.length) / moments)];
    for (let by = 0, block = 0; by < down; by++) {
      for (let bx = 0; bx < across; bx++, block++) factors[block] += lumaVariance(frame, bx, by);
    }
  }
  for (let block = 0; block < factors.length; block++) {
    factors[block] = Math.min(MOST, Math.sqrt(1 + factors[block] / moments / KNEE));
  }
  return spread(factors, across, down, width, height);
}

function lumaVariance({ rgba, width, height }: PixelFrame, bx: number, by: number): number {
  const right = Math.min(width, (bx + 1) * SIDE);
  const bottom = Math.min(height, (by + 1) * SIDE);
  let sum = 0;
  let squares = 0;
  let count = 0;
  for (let y = by * SIDE; y < bottom; y++) {
    for (let x = bx * SIDE; x < right; x++, count++) {
      const at = (y * width + x) * 4;
      const luma = 0.299 * rgba[at] + 0.587 * rgba[at + 1] + 0.114 * rgba[at + 2];
      sum += luma;
      squares += luma * luma;
    }
  }
  const mean = sum / count;
  return Math.max(0, squares / count - mean * mean);
}

/** Bilinear between the squares' middles. */
function spread(
  blocks: Float32Array,
  across: number,
  down: number,
  width: number,
  height: number,
): Float32Array {
  const out = new Float32Array(width * height);
  for (let y = 0, p = 0; y < height; y++) {
    const v = Math.max(0, Math.min(down - 1, (y + 0.5) / SIDE - 0.5));
    const y0 = Math.floor(v);
    const y1 = Math.min(down - 1, y0 + 1);
    const fy = v - y0;
    for (let x = 0; x < width; x++, p++) {
      const u = Math.max(0, Math.min(across - 1, (x + 0.5) / SIDE - 0.5));
      const x0 = Math.floor(u);
      const x1 = Math.min(across - 1, x0 + 1);
      const fx = u - x0;
      const above = blocks[y0 * across + x0] * (1 - fx) + blocks[y0 * across + x1] * fx;
      const below = blocks[y1 * across + x0] * (1 - fx) + blocks[y1 * across + x1] * fx;
      out[p] = above * (1 - fy) + below * fy;
    }
  }
  return out;
}
