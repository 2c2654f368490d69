import { createFrame, type PixelFrame } from './frame.js';
import { LINEAR_FROM_SRGB8, LINEAR_MAX, SRGB8_FROM_LINEAR } from './srgb.js';

/** For every output sample: which input samples count, and how much. Weights of one output sum to 1. */
interface Taps {
  readonly first: Int32Array;
  readonly count: Int32Array;
  /** `stride` weights per output sample, unused ones zero. */
  readonly weights: Float32Array;
  readonly stride: number;
}

/**
 * Catmull–Rom (Keys 1981, "Cubic convolution interpolation for digital image processing", a = −0.5),
 * widened by the ratio when shrinking, so that every input sample is counted.
 */
function cubicKernel(distance: number): number {
  const x = Math.abs(distance);
  if (x < 1) return (1.5 * x - 2.5) * x * x + 1;
  if (x < 2) return ((-0.5 * x + 2.5) * x - 4) * x + 2;
  return 0;
}

function makeTaps(inputLength: number, outputLength: number): Taps {
  const ratio = inputLength / outputLength;
  const stretch = Math.max(1, ratio);
  const radius = 2 * stretch;
  const stride = Math.ceil(radius * 2) + 1;
  const first = new Int32Array(outputLength);
  const count = new Int32Array(outputLength);
  const weights = new Float32Array(outputLength * stride);
  for (let out = 0; out < outputLength; out++) {
    const centre = (out + 0.5) * ratio - 0.5;
    const from = Math.max(0, Math.ceil(centre - radius));
    const to = Math.min(inputLength - 1, Math.floor(centre + radius));
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
 * A resizer in linear light with premultiplied alpha: fine bright detail keeps its brightness and
 * transparent borders do not bleed.
 * @throws RangeError if a side is not a whole number above zero.
 */
export function createResizer(
  from: { width: number; height: number },
  to: { width: number; height: number },
): Resizer {
  createFrame(to.width, to.height);
  if (from.width === to.width && from.height === to.height) return { resize: (frame) => frame };
  const across = makeTaps(from.width, to.width);
  const down = makeTaps(from.height, to.height);
  // Rows already resized across, in linear light, premultiplied: 4 floats a pixel.
  const rows = new Float32Array(to.width * from.height * 4);
  const line = new Float32Array(from.width * 4);

  return {
    resize(frame) {
      if (frame.width !== from.width || frame.height !== from.height) {
        throw new RangeError(
          `This resizer takes ${from.width} × ${from.height} px; got ${frame.width} × ${frame.height} px.`,
        );
      }
      for (let y = 0; y < from.height; y++) {
        readLinearLine(frame, y, line);
        resizeLineAcross(line, across, rows, y * to.width * 4, to.width);
      }
      const out = createFrame(to.width, to.height);
      resizeDown(rows, down, out);
      return out;
    },
  };
}

function readLinearLine(frame: PixelFrame, y: number, line: Float32Array): void {
  const { rgba, width } = frame;
  let at = y * width * 4;
  for (let i = 0; i < width * 4; i += 4, at += 4) {
    const alpha = rgba[at + 3] / 255;
    line[i] = LINEAR_FROM_SRGB8[rgba[at]] * alpha;
    line[i + 1] = LINEAR_FROM_SRGB8[rgba[at + 1]] * alpha;
    line[i + 2] = LINEAR_FROM_SRGB8[rgba[at + 2]] * alpha;
    line[i + 3] = alpha;
  }
}

function resizeLineAcross(
  line: Float32Array,
  taps: Taps,
  rows: Float32Array,
  rowAt: number,
  width: number,
): void {
  const { first, count, weights, stride } = taps;
  for (let x = 0; x < width; x++) {
    let r = 0;
    let g = 0;
    let b = 0;
    let a = 0;
    let from = first[x] * 4;
    const start = x * stride;
    const end = start + count[x];
    for (let k = start; k < end; k++, from += 4) {
      const weight = weights[k];
      r += line[from] * weight;
      g += line[from + 1] * weight;
      b += line[from + 2] * weight;
      a += line[from + 3] * weight;
    }
    const at = rowAt + x * 4;
    rows[at] = r;
    rows[at + 1] = g;
    rows[at + 2] = b;
    rows[at + 3] = a;
  }
}

function resizeDown(rows: Float32Array, taps: Taps, out: PixelFrame): void {
  const { first, count, weights, stride } = taps;
  const { width, height, rgba } = out;
  const floats = width * 4;
  const sums = new Float32Array(floats);
  for (let y = 0; y < height; y++) {
    sums.fill(0);
    for (let k = 0; k < count[y]; k++) {
      const weight = weights[y * stride + k];
      const from = (first[y] + k) * floats;
      for (let i = 0; i < floats; i++) sums[i] += rows[from + i] * weight;
    }
    const at = y * floats;
    for (let i = 0; i < floats; i += 4) {
      const alpha = sums[i + 3];
      if (alpha <= 0) continue;
      const scale = alpha >= 1 ? 1 : 1 / alpha;
      rgba[at + i] = toSrgb8(sums[i] * scale);
      rgba[at + i + 1] = toSrgb8(sums[i + 1] * scale);
      rgba[at + i + 2] = toSrgb8(sums[i + 2] * scale);
      rgba[at + i + 3] = alpha >= 1 ? 255 : Math.round(alpha * 255);
    }
  }
}

function toSrgb8(linear: number): number {
  if (linear <= 0) return 0;
  if (linear >= LINEAR_MAX) return 255;
  return SRGB8_FROM_LINEAR[(linear + 0.5) | 0];
}
