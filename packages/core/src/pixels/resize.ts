import { createKernelResize, type ResizePixels, type Taps } from './fast-resize.js';
import { createFrame, isOpaque, type PixelFrame } from './frame.js';
import type { Rect } from './rect.js';
import type { Size } from './size.js';
import { LINEAR_FROM_SRGB8, LINEAR_MAX, SRGB8_FROM_LINEAR } from './srgb.js';

/**
 * Catmull–Rom (Keys 1981, "Cubic convolution interpolation for digital image processing", a = −0.5),
 * widened by the ratio when shrinking, so that every input sample is counted.
 */
export function cubicKernel(distance: number): number {
  const x = Math.abs(distance);
  if (x < 1) return (1.5 * x - 2.5) * x * x + 1;
  if (x < 2) return ((-0.5 * x + 2.5) * x - 4) * x + 2;
  return 0;
}

function makeTaps(inputLength: number, outputLength: number, windowFrom: number, windowLength: number): Taps {
  const ratio = windowLength / outputLength;
  const stretch = Math.max(1, ratio);
  const radius = 2 * stretch;
  const stride = Math.ceil(radius * 2) + 1;
  const first = new Int32Array(outputLength);
  const count = new Int32Array(outputLength);
  const weights = new Float32Array(outputLength * stride);
  for (let out = 0; out < outputLength; out++) {
    const centre = windowFrom + (out + 0.5) * ratio - 0.5;
    const from = Math.min(inputLength - 1, Math.max(0, Math.ceil(centre - radius)));
    const to = Math.max(from, Math.min(inputLength - 1, Math.floor(centre + radius)));
    let sum = 0;
    for (let at = from; at <= to; at++) sum += cubicKernel((at - centre) / stretch);
    first[out] = from;
    count[out] = to - from + 1;
    for (let at = from; at <= to; at++) {
      weights[out * stride + at - from] = cubicKernel((at - centre) / stretch) / sum;
    }
  }
  return { first, count, weights, stride };
}

/** Turns frames of one size into frames of another; the tap tables are made once. */
export interface Resizer {
  resize(frame: PixelFrame): PixelFrame;
}

/**
 * A resizer in linear light: fine bright detail keeps its brightness. With alpha, colours are premultiplied,
 * so that transparent borders do not bleed; opaque frames do without. Down first, since that runs along whole
 * rows.
 * @param window the part of the input that fills the output, in input pixels and their fractions; all of it
 * if not given.
 * @throws RangeError if a side is not a whole number above zero, or the window leaves the input.
 */
export function createResizer(from: Size, to: Size, window: Rect = wholeOf(from)): Resizer {
  return makeResizer(from, to, window, createKernelResize) ?? { resize: (frame) => frame };
}

/** Reference implementation, used where there is no SIMD. */
export function createPlainResizer(from: Size, to: Size, window: Rect = wholeOf(from)): Resizer {
  return makeResizer(from, to, window, () => null) ?? { resize: (frame) => frame };
}

/** @returns null where nothing is to be done. */
function makeResizer(
  from: Size,
  to: Size,
  window: Rect,
  createFast: (from: Size, to: Size, down: Taps, across: Taps) => ResizePixels | null,
): Resizer | null {
  createFrame(to.width, to.height);
  assertInside(window, from);
  const isWhole = window.x === 0 && window.y === 0 && sameSize(window, from);
  if (isWhole && sameSize(from, to)) return null;
  const across = makeTaps(from.width, to.width, window.x, window.width);
  const down = makeTaps(from.height, to.height, window.y, window.height);
  const rows = { from: down.first[0], to: down.first[to.height - 1] + down.count[to.height - 1] };
  const height = rows.to - rows.from;
  const seenDown = { ...down, first: down.first.map((first) => first - rows.from) };
  const resizeSeen =
    createFast({ width: from.width, height }, to, seenDown, across) ??
    createPlainResize({ width: from.width, height }, to, seenDown, across);
  return {
    resize(frame) {
      if (!sameSize(frame, from)) {
        throw new RangeError(
          `This resizer takes ${from.width} × ${from.height} px; got ${frame.width} × ${frame.height} px.`,
        );
      }
      const out = createFrame(to.width, to.height);
      resizeSeen(frame.rgba.subarray(rows.from * from.width * 4, rows.to * from.width * 4), out.rgba);
      return out;
    },
  };
}

function createPlainResize(from: Size, to: Size, down: Taps, across: Taps): ResizePixels {
  const linear = new Float32Array(from.width * from.height * 4);
  const row = new Float32Array(from.width * 4);
  return (seen, rgba) => {
    const out = createFrame(to.width, to.height, rgba);
    const opaque = isOpaque(seen);
    const floats = from.width * (opaque ? 3 : 4);
    if (opaque) linearOpaque(seen, linear);
    else linearPremultiplied(seen, linear);
    for (let y = 0; y < to.height; y++) {
      blendRows(linear, floats, down, y, row);
      if (opaque) resizeOpaqueRow(row, across, out, y);
      else resizeRow(row, across, out, y);
    }
  };
}

function sameSize(a: Size, b: Size): boolean {
  return a.width === b.width && a.height === b.height;
}

function wholeOf({ width, height }: Size): Rect {
  return { x: 0, y: 0, width, height };
}

function assertInside({ x, y, width, height }: Rect, size: Size): void {
  const slack = 1e-6;
  const fits =
    width > 0 &&
    height > 0 &&
    x >= -slack &&
    y >= -slack &&
    x + width <= size.width + slack &&
    y + height <= size.height + slack;
  if (fits) return;
  throw new RangeError(
    `The window ${width} × ${height} px at ${x}, ${y} leaves the picture of ${size.width} × ${size.height} px.`,
  );
}

/** Three floats a pixel. */
function linearOpaque(rgba: Uint8Array, linear: Float32Array): void {
  for (let at = 0, i = 0; at < rgba.length; at += 4, i += 3) {
    linear[i] = LINEAR_FROM_SRGB8[rgba[at]];
    linear[i + 1] = LINEAR_FROM_SRGB8[rgba[at + 1]];
    linear[i + 2] = LINEAR_FROM_SRGB8[rgba[at + 2]];
  }
}

/** Four floats a pixel, alpha 0–1. */
function linearPremultiplied(rgba: Uint8Array, linear: Float32Array): void {
  for (let at = 0; at < rgba.length; at += 4) {
    const alpha = rgba[at + 3] / 255;
    linear[at] = LINEAR_FROM_SRGB8[rgba[at]] * alpha;
    linear[at + 1] = LINEAR_FROM_SRGB8[rgba[at + 1]] * alpha;
    linear[at + 2] = LINEAR_FROM_SRGB8[rgba[at + 2]] * alpha;
    linear[at + 3] = alpha;
  }
}

/**
 * One output row before it is resized across: the weighted sum of input rows, three at a time.
 */
function blendRows(linear: Float32Array, floats: number, taps: Taps, y: number, row: Float32Array): void {
  const { first, count, weights, stride } = taps;
  row.fill(0, 0, floats);
  for (let k = 0; k < count[y]; k += 3) {
    const last = count[y] - 1;
    // Beyond the last row the weight is 0, and any row will do.
    const a = (first[y] + k) * floats;
    const b = (first[y] + Math.min(k + 1, last)) * floats;
    const c = (first[y] + Math.min(k + 2, last)) * floats;
    const weightA = weights[y * stride + k];
    const weightB = k + 1 <= last ? weights[y * stride + k + 1] : 0;
    const weightC = k + 2 <= last ? weights[y * stride + k + 2] : 0;
    for (let i = 0; i < floats; i++) {
      row[i] += linear[a + i] * weightA + linear[b + i] * weightB + linear[c + i] * weightC;
    }
  }
}

function resizeOpaqueRow(row: Float32Array, taps: Taps, out: PixelFrame, y: number): void {
  const { first, count, weights, stride } = taps;
  const { width, rgba } = out;
  let at = y * width * 4;
  for (let x = 0; x < width; x++, at += 4) {
    let r = 0;
    let g = 0;
    let b = 0;
    let from = first[x] * 3;
    const start = x * stride;
    const end = start + count[x];
    for (let k = start; k < end; k++, from += 3) {
      const weight = weights[k];
      r += row[from] * weight;
      g += row[from + 1] * weight;
      b += row[from + 2] * weight;
    }
    rgba[at] = toSrgb8(r);
    rgba[at + 1] = toSrgb8(g);
    rgba[at + 2] = toSrgb8(b);
    rgba[at + 3] = 255;
  }
}

function resizeRow(row: Float32Array, taps: Taps, out: PixelFrame, y: number): void {
  const { first, count, weights, stride } = taps;
  const { width, rgba } = out;
  let at = y * width * 4;
  for (let x = 0; x < width; x++, at += 4) {
    let r = 0;
    let g = 0;
    let b = 0;
    let alpha = 0;
    let from = first[x] * 4;
    const start = x * stride;
    const end = start + count[x];
    for (let k = start; k < end; k++, from += 4) {
      const weight = weights[k];
      r += row[from] * weight;
      g += row[from + 1] * weight;
      b += row[from + 2] * weight;
      alpha += row[from + 3] * weight;
    }
    if (alpha <= 0) continue;
    const scale = alpha >= 1 ? 1 : 1 / alpha;
    rgba[at] = toSrgb8(r * scale);
    rgba[at + 1] = toSrgb8(g * scale);
    rgba[at + 2] = toSrgb8(b * scale);
    rgba[at + 3] = alpha >= 1 ? 255 : Math.round(alpha * 255);
  }
}

function toSrgb8(linear: number): number {
  if (linear <= 0) return 0;
  if (linear >= LINEAR_MAX) return 255;
  return SRGB8_FROM_LINEAR[(linear + 0.5) | 0];
}
