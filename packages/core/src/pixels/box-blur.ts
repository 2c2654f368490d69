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
  const row = width * channels;
  const [lineStep, step] = isAcross ? [row, channels] : [channels, row];
  for (let line = 0; line < lines; line++) {
    for (let c = 0; c < channels; c++) {
      const start = line * lineStep + c;
      const get = (i: number) => values[start + Math.max(0, Math.min(length - 1, i)) * step];
      let sum = 0;
      for (let i = -radius; i <= radius; i++) sum += get(i);
      for (let i = 0; i < length; i++) {
        out[start + i * step] = sum / (2 * radius + 1);
        sum += get(i + radius + 1) - get(i - radius);
      }
    }
  }
  return out;
}
