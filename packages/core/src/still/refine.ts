import type { Rect } from '../pixels/index.js';
import { edgeWindow, signedDistance } from './distance.js';
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

/** @param distance the mask's own signed distance as far as it is grown, where it is known already. */
export function growMask(
  mask: Mask,
  by: number,
  distance: Float32Array = signedDistance(mask, Math.abs(by) + 1),
): Mask {
  const values = new Uint8Array(mask.values.length);
  for (let i = 0; i < values.length; i++) {
    // A pixel whose middle lies half a pixel from the moved edge is half covered.
    const covered = Math.max(0, Math.min(1, 0.5 + by - distance[i])) * 255;
    const value = mask.values[i];
    values[i] = Math.round(by > 0 ? Math.max(value, covered) : Math.min(value, covered));
  }
  return createMask(mask.width, mask.height, values);
}

/** Fades the edge over about `width` pixels, half of it outside. */
export function featherMask(mask: Mask, width: number): Mask {
  const radius = boxRadius(width);
  // Where all is alike for so far around, it stays as it is.
  const window = edgeWindow(mask, (a, b) => a !== b, PASSES * (Math.floor(radius) + 1));
  if (!window) return mask;
  let part = cutOut(mask, window);
  for (let pass = 0; pass < PASSES; pass++) {
    part = blurLines(part, window.width, window.height, 1, window.width, radius);
    part = blurLines(part, window.height, window.width, window.width, 1, radius);
  }
  const values = mask.values.slice();
  for (let y = 0, at = 0; y < window.height; y++) {
    let i = (window.y + y) * mask.width + window.x;
    for (let x = 0; x < window.width; x++) values[i++] = Math.round(part[at++]);
  }
  return createMask(mask.width, mask.height, values);
}

function cutOut({ width, values }: Mask, window: Rect): Float32Array {
  const part = new Float32Array(window.width * window.height);
  for (let y = 0; y < window.height; y++) {
    const from = (window.y + y) * width + window.x;
    part.set(values.subarray(from, from + window.width), y * window.width);
  }
  return part;
}

/** The box whose three passes fade from 5 % to 95 % over the width; may be a broken number. */
function boxRadius(width: number): number {
  const sigma = width / 3.3;
  return (Math.sqrt((12 * sigma * sigma) / PASSES + 1) - 1) / 2;
}

/**
 * A box of 2 · radius + 1 pixels along every line, its outermost ones counted in part; beyond the border, the
 * border goes on.
 * @param length pixels of a line. @param stride from one of them to the next. @param apart from one line to
 * the next.
 */
function blurLines(
  values: Float32Array,
  length: number,
  lines: number,
  stride: number,
  apart: number,
  radius: number,
): Float32Array {
  const out = new Float32Array(values.length);
  const whole = Math.floor(radius);
  const part = radius - whole;
  const border = whole + 1;
  const line = new Float32Array(length + 2 * border);
  for (let n = 0; n < lines; n++) {
    const start = n * apart;
    for (let i = 0; i < length; i++) line[border + i] = values[start + i * stride];
    line.fill(line[border], 0, border);
    line.fill(line[border + length - 1], border + length);
    let sum = 0;
    for (let i = 1; i <= 2 * whole + 1; i++) sum += line[i];
    for (let i = 0; i < length; i++) {
      const edges = line[i] + line[i + 2 * whole + 2];
      out[start + i * stride] = (sum + part * edges) / (2 * radius + 1);
      sum += line[i + 2 * whole + 2] - line[i + 1];
    }
  }
  return out;
}
