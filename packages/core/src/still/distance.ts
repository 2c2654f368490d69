import type { Mask } from './mask.js';

/** Larger than any distance in a picture, squared px. */
const FAR = 1e12;
/** From this value on a place counts as inside. */
const INSIDE = 128;

/**
 * Signed distance to the mask's edge, px: negative inside, positive outside, the edge lying between pixels. Exact (Felzenszwalb and
 * Huttenlocher, Distance Transforms of Sampled Functions, 2012).
 */
export function signedDistance({ width, height, values }: Mask): Float32Array {
  const toInside = squaredDistance(width, height, (i) => values[i] >= INSIDE);
  const toOutside = squaredDistance(width, height, (i) => values[i] < INSIDE);
  return Float32Array.from(toInside, (outer, i) =>
    values[i] >= INSIDE ? 0.5 - Math.sqrt(toOutside[i]) : Math.sqrt(outer) - 0.5,
  );
}

/** Squared distance of every pixel to the nearest one that is in. */
function squaredDistance(width: number, height: number, isIn: (i: number) => boolean): Float64Array {
  const out = new Float64Array(width * height);
  for (let i = 0; i < out.length; i++) out[i] = isIn(i) ? 0 : FAR;
  const line = new Float64Array(Math.max(width, height));
  const scratch = createScratch(line.length);
  for (let x = 0; x < width; x++) {
    for (let y = 0; y < height; y++) line[y] = out[y * width + x];
    transformLine(line, height, scratch);
    for (let y = 0; y < height; y++) out[y * width + x] = scratch.out[y];
  }
  for (let y = 0; y < height; y++) {
    line.set(out.subarray(y * width, (y + 1) * width));
    transformLine(line, width, scratch);
    out.set(scratch.out.subarray(0, width), y * width);
  }
  return out;
}

interface Scratch {
  readonly out: Float64Array;
  /** Places of the parabolas of the lower envelope. */
  readonly places: Int32Array;
  /** Where each of them begins to be the lowest. */
  readonly begins: Float64Array;
}

function createScratch(length: number): Scratch {
  return {
    out: new Float64Array(length),
    places: new Int32Array(length),
    begins: new Float64Array(length + 1),
  };
}

/** The lower envelope of parabolas rooted at (i, f(i)). */
function transformLine(f: Float64Array, length: number, { out, places, begins }: Scratch): void {
  let k = 0;
  places[0] = 0;
  begins[0] = Number.NEGATIVE_INFINITY;
  begins[1] = Number.POSITIVE_INFINITY;
  for (let q = 1; q < length; q++) {
    let meet = meeting(f, q, places[k]);
    while (meet <= begins[k]) {
      k--;
      meet = meeting(f, q, places[k]);
    }
    k++;
    places[k] = q;
    begins[k] = meet;
    begins[k + 1] = Number.POSITIVE_INFINITY;
  }
  k = 0;
  for (let q = 0; q < length; q++) {
    while (begins[k + 1] < q) k++;
    out[q] = (q - places[k]) ** 2 + f[places[k]];
  }
}

function meeting(f: Float64Array, q: number, p: number): number {
  return (f[q] + q * q - f[p] - p * p) / (2 * (q - p));
}
