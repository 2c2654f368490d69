import { signedDistance } from './distance.js';
import { createMask, invertMask, type Mask } from './mask.js';

/** How a painted mask is made softer, wider or tighter; numbers, so that the paint stays as it is. */
export interface Refinement {
  /** The edge moves outwards by so many pixels of the mask, inwards if negative. */
  readonly grow: number;
  /** Width over which the edge fades, px of the mask. */
  readonly feather: number;
  /** What moved is held and the other way round. */
  readonly invert: boolean;
}

/** Passes of a box that come near a Gaussian. */
const PASSES = 3;

/** Inverted, grown, feathered, in this order. The painted softness stays where growing does not reach. */
export function refineMask(mask: Mask, { grow, feather, invert }: Refinement): Mask {
  const turned = invert ? invertMask(mask) : mask;
  const grown = grow === 0 ? turned : growMask(turned, grow);
  return feather > 0 ? featherMask(grown, feather) : grown;
}

/** @param distance the mask's own signed distance, where it is known already. */
export function growMask(mask: Mask, by: number, distance: Float32Array = signedDistance(mask)): Mask {
  const values = mask.values.map((value, i) => {
    // A pixel whose middle lies half a pixel from the moved edge is half covered.
    const covered = Math.max(0, Math.min(1, 0.5 + by - distance[i])) * 255;
    return Math.round(by > 0 ? Math.max(value, covered) : Math.min(value, covered));
  });
  return createMask(mask.width, mask.height, values);
}

/** Fades the edge over about `width` pixels, half of it outside. */
export function featherMask(mask: Mask, width: number): Mask {
  const radius = boxRadius(width);
  let values: Float32Array = Float32Array.from(mask.values);
  for (let pass = 0; pass < PASSES; pass++) {
    values = blurRows(values, mask.width, mask.height, radius);
    values = blurColumns(values, mask.width, mask.height, radius);
  }
  return createMask(
    mask.width,
    mask.height,
    Uint8Array.from(values, (value) => Math.round(value)),
  );
}

/** The box whose three passes fade from 5 % to 95 % over the width; may be a broken number. */
function boxRadius(width: number): number {
  const sigma = width / 3.3;
  return (Math.sqrt((12 * sigma * sigma) / PASSES + 1) - 1) / 2;
}

/** A box of 2 · radius + 1 pixels, its outermost ones counted in part; beyond the border, the border goes on. */
function blurRows(values: Float32Array, width: number, height: number, radius: number): Float32Array {
  const out = new Float32Array(values.length);
  for (let y = 0; y < height; y++) blurLine(values, out, y * width, 1, width, radius);
  return out;
}

function blurColumns(values: Float32Array, width: number, height: number, radius: number): Float32Array {
  const out = new Float32Array(values.length);
  for (let x = 0; x < width; x++) blurLine(values, out, x, width, height, radius);
  return out;
}

function blurLine(
  values: Float32Array,
  out: Float32Array,
  start: number,
  stride: number,
  count: number,
  radius: number,
): void {
  const whole = Math.floor(radius);
  const part = radius - whole;
  const at = (i: number) => values[start + Math.max(0, Math.min(count - 1, i)) * stride];
  let sum = 0;
  for (let i = -whole; i <= whole; i++) sum += at(i);
  for (let i = 0; i < count; i++) {
    const edges = at(i - whole - 1) + at(i + whole + 1);
    out[start + i * stride] = (sum + part * edges) / (2 * radius + 1);
    sum += at(i + whole + 1) - at(i - whole);
  }
}
