import type { Size } from './size.js';

/**
 * Three box means along rows and columns, which are nearly a Gaussian blur. At the edges, the outermost
 * values go on. (P. Kovesi, Fast Almost-Gaussian Filtering, DICTA 2010.)
 * @param values four channels for each place, row by row; stays as it is.
 * @param radius of each mean, places to both sides, at least 1.
 * @returns memory of its own, of the same shape.
 */
export function boxBlur(
  values: Float32Array<ArrayBuffer>,
  size: Size,
  radius: number,
): Float32Array<ArrayBuffer> {
  let blurred = values;
  for (let pass = 0; pass < 3; pass++) {
    blurred = boxMean(blurred, size, radius, 4);
  }
  return blurred;
}

/**
 * The mean of a square of 2 · radius + 1 places; at the edges, the outermost values go on.
 * @param channels of each place, side by side.
 * @returns memory of its own.
 */
export function boxMean(
  values: Float32Array<ArrayBuffer>,
  size: Size,
  radius: number,
  channels: number,
): Float32Array<ArrayBuffer> {
  return meanDown(meanAcross(values, size, radius, channels), size, radius, channels);
}

function meanAcross(
  values: Float32Array<ArrayBuffer>,
  { width, height }: Size,
  radius: number,
  channels: number,
): Float32Array<ArrayBuffer> {
  const out = new Float32Array(values.length);
  const side = 2 * radius + 1;
  const row = width * channels;
  for (let y = 0; y < height; y++) {
    for (let c = 0; c < channels; c++) {
      const start = y * row + c;
      const last = start + row - channels;
      let sum = values[start] * (radius + 1);
      for (let i = 1; i <= radius; i++) sum += values[Math.min(last, start + i * channels)];
      let leaving = start - radius * channels;
      let entering = start + (radius + 1) * channels;
      for (let at = start; at <= last; at += channels, leaving += channels, entering += channels) {
        out[at] = sum / side;
        sum += values[Math.min(entering, last)] - values[Math.max(leaving, start)];
      }
    }
  }
  return out;
}

/** All columns at once, row by row, as they lie in memory. */
function meanDown(
  values: Float32Array<ArrayBuffer>,
  { width, height }: Size,
  radius: number,
  channels: number,
): Float32Array<ArrayBuffer> {
  const out = new Float32Array(values.length);
  const side = 2 * radius + 1;
  const row = width * channels;
  const rowAt = (y: number) => Math.max(0, Math.min(height - 1, y)) * row;
  const sums = new Float64Array(row);
  for (let x = 0; x < row; x++) sums[x] = values[x] * (radius + 1);
  for (let i = 1; i <= radius; i++) {
    for (let x = 0, p = rowAt(i); x < row; x++, p++) sums[x] += values[p];
  }
  for (let y = 0, at = 0; y < height; y++) {
    let [entering, leaving] = [rowAt(y + radius + 1), rowAt(y - radius)];
    for (let x = 0; x < row; x++, at++, entering++, leaving++) {
      out[at] = sums[x] / side;
      sums[x] += values[entering] - values[leaving];
    }
  }
  return out;
}
