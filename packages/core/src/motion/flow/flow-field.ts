import type { Size } from '../../pixels/index.js';
import type { LumaPicture } from '../luma-picture.js';
import { resizedPlane } from './planes.js';

/**
 * Where each pixel of one picture has gone in another: the pixel at (x, y) of the first lies at (x + u, y + v)
 * of the second, px.
 */
export interface FlowField extends Size {
  readonly u: Float32Array;
  readonly v: Float32Array;
}

export function stillField({ width, height }: Size): FlowField {
  return { width, height, u: new Float32Array(width * height), v: new Float32Array(width * height) };
}

/** The same movement over pictures of another size. */
export function resizedField({ width, height, u, v }: FlowField, to: Size): FlowField {
  if (width === to.width && height === to.height) return { width, height, u: u.slice(), v: v.slice() };
  return {
    width: to.width,
    height: to.height,
    u: resizedPlane({ width, height, values: u }, to, to.width / width),
    v: resizedPlane({ width, height, values: v }, to, to.height / height),
  };
}

/**
 * The second picture as the first one lies: out(x) = picture(x + flow(x)), bilinear, the border repeated.
 * @param times how much of the flow is gone along.
 */
export function warpByFlow(
  { width, height, values }: LumaPicture,
  { u, v }: FlowField,
  times = 1,
): LumaPicture {
  const out = new Float32Array(values.length);
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      const atX = Math.max(0, Math.min(width - 1, x + times * u[p]));
      const atY = Math.max(0, Math.min(height - 1, y + times * v[p]));
      const [left, top] = [Math.trunc(atX), Math.trunc(atY)];
      const [over, down] = [atX - left, atY - top];
      const q = top * width + left;
      const right = left < width - 1 ? 1 : 0;
      const below = top < height - 1 ? width : 0;
      const upper = values[q] * (1 - over) + values[q + right] * over;
      const lower = values[q + below] * (1 - over) + values[q + below + right] * over;
      out[p] = upper * (1 - down) + lower * down;
    }
  }
  return { width, height, values: out };
}
