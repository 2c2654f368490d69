import type { Look } from '../loop/index.js';
import type { Size } from '../pixels/index.js';
import type { Planes } from './planes.js';

/** The first frames of planes as looks: luma and chroma, each pixel the mean of what it covers. @param size of the looks. */
export function looksOfPlanes(planes: Planes, count: number, size: Size): Look[] {
  const { width, height, pitch, paddedHeight, luma, chroma } = planes;
  const half = { width: Math.ceil(size.width / 2), height: Math.ceil(size.height / 2) };
  const halfFrom = { width: Math.ceil(width / 2), height: Math.ceil(height / 2) };
  const bytes = pitch * paddedHeight;
  return Array.from({ length: count }, (_, frame): Look => {
    const colour = (offset: number) =>
      means(chroma, (frame * bytes) / 2 + offset, pitch, 2, halfFrom, half, 128);
    return {
      luma: { ...size, values: means(luma, frame * bytes, pitch, 1, { width, height }, size, 0) },
      blue: { ...half, values: colour(0) },
      red: { ...half, values: colour(1) },
    };
  });
}

/** @param stride bytes from one value of a row to the next. @param zero is taken away. */
function means(
  plane: Uint8Array,
  at: number,
  pitch: number,
  stride: number,
  from: Size,
  to: Size,
  zero: number,
): Float32Array {
  const out = new Float32Array(to.width * to.height);
  const startOf = (target: number, sources: number, targets: number) =>
    Math.floor((target * sources) / targets);
  for (let row = 0, p = 0; row < to.height; row++) {
    const top = startOf(row, from.height, to.height);
    const bottom = Math.max(top + 1, startOf(row + 1, from.height, to.height));
    for (let column = 0; column < to.width; column++, p++) {
      const left = startOf(column, from.width, to.width);
      const right = Math.max(left + 1, startOf(column + 1, from.width, to.width));
      let sum = 0;
      for (let y = top; y < bottom; y++) {
        for (let x = left; x < right; x++) sum += plane[at + y * pitch + x * stride];
      }
      out[p] = sum / ((bottom - top) * (right - left)) - zero;
    }
  }
  return out;
}
