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
  return meanOfLines(meanOfLines(values, size, radius, channels, true), size, radius, channels, false);
}

function meanOfLines(
  values: Float32Array<ArrayBuffer>,
  { width, height }: Size,
  radius: number,
  channels: number,
  isAcross: boolean,
): Float32Array<ArrayBuffer> {
  const out = new Float32Array(values.length);
  const [lines, length] = isAcross ? [height, width] : [width, height];
  const side = 2 * radius + 1;
  const row = width * channels;
  const [lineStep, step] = isAcross ? [row, channels] : [channels, row];
  for (let line = 0; line < lines; line++) {
    for (let c = 0; c < channels; c++) {
      const start = line * lineStep + c;
      const last = start + (length - 1) * step;
      let sum = values[start] * (radius + 1);
      for (let i = 1; i <= radius; i++) sum += values[Math.min(last, start + i * step)];
      let leaving = start - radius * step;
      let entering = start + (radius + 1) * step;
      for (let at = start; at <= last; at += step, leaving += step, entering += step) {
        out[at] = sum / side;
        sum += values[Math.min(entering, last)] - values[Math.max(leaving, start)];
      }
    }
  }
  return out;
}
