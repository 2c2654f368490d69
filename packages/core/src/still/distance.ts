import type { Rect } from '../pixels/index.js';
import type { Mask } from './mask.js';

/** Larger than any distance in a picture, squared px. */
const FAR = 1e12;
/** From this value on a place counts as inside. */
const INSIDE = 128;

/**
 * Signed distance to the mask's edge, px: negative inside, positive outside, the edge lying between pixels.
 * Exact (Felzenszwalb and Huttenlocher, Distance Transforms of Sampled Functions, 2012).
 * @param reach farther from the edge than so many px, only which side it is counts: there the distance may be
 * told too small, but never below the reach. Much less is looked at then.
 */
export function signedDistance(mask: Mask, reach = Number.POSITIVE_INFINITY): Float32Array {
  const { width, height, values } = mask;
  const out = new Float32Array(width * height);
  const far = Math.min(reach, FAR);
  for (let i = 0; i < out.length; i++) out[i] = values[i] >= INSIDE ? -far : far;
  const near = edgeWindow(mask, (a, b) => a >= INSIDE !== b >= INSIDE, Math.ceil(Math.min(reach, FAR)) + 1);
  if (!near) return out;
  const toInside = squaredDistance(mask, near, true);
  const toOutside = squaredDistance(mask, near, false);
  for (let y = 0, at = 0; y < near.height; y++) {
    let i = (near.y + y) * width + near.x;
    for (let x = 0; x < near.width; x++, i++, at++) {
      out[i] = values[i] >= INSIDE ? 0.5 - Math.sqrt(toOutside[at]) : Math.sqrt(toInside[at]) - 0.5;
    }
  }
  return out;
}

/**
 * The smallest window that holds all pixels beside which something changes, and so many px around them; null
 * where nothing does.
 * @param differ whether two neighbours do.
 */
export function edgeWindow(
  { width, height, values }: Mask,
  differ: (a: number, b: number) => boolean,
  around: number,
): Rect | null {
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const isEdge =
        (x + 1 < width && differ(values[i], values[i + 1])) ||
        (y + 1 < height && differ(values[i], values[i + width]));
      if (!isEdge) continue;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      bottom = y;
    }
  }
  if (right < 0) return null;
  const x = Math.max(0, left - around);
  const y = Math.max(0, top - around);
  return {
    x,
    y,
    width: Math.min(width, right + 2 + around) - x,
    height: Math.min(height, bottom + 2 + around) - y,
  };
}

/** Squared distance of every pixel of a window to the nearest one in it that is inside, or outside. */
function squaredDistance(mask: Mask, window: Rect, inside: boolean): Float64Array {
  const { width, height } = window;
  const out = new Float64Array(width * height);
  for (let y = 0, at = 0; y < height; y++) {
    let i = (window.y + y) * mask.width + window.x;
    for (let x = 0; x < width; x++, i++, at++) out[at] = mask.values[i] >= INSIDE === inside ? 0 : FAR;
  }
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
