import { growKernel, type KernelMemory, startKernel } from './kernel-host.js';
import { RESIZE_KERNEL } from './resize-kernel.js';
import type { Size } from './size.js';
import { LINEAR_FROM_SRGB8, SRGB8_FROM_LINEAR } from './srgb.js';

/** For every output sample: which input samples count, and how much. Weights of one output sum to 1. */
export interface Taps {
  readonly first: Int32Array;
  readonly count: Int32Array;
  /** `stride` weights per output sample, unused ones zero. */
  readonly weights: Float32Array;
  readonly stride: number;
}

/** Resizes RGBA8 pixels of one size into those of another. */
export type ResizePixels = (from: Uint8Array, to: Uint8Array) => void;

/** What packages/core/kernel/resize.ts exports. */
interface Kernel extends KernelMemory {
  place(
    fromWidth: number,
    fromRows: number,
    toWidth: number,
    toHeight: number,
    downStride: number,
    acrossStride: number,
  ): number;
  linearTableAt(): number;
  codedTableAt(): number;
  inputAt(): number;
  outputAt(): number;
  downFirstAt(): number;
  acrossFirstAt(): number;
  resize(): void;
}

/**
 * Resizing with the SIMD kernel, in single precision: the same to a level. Rows are taken in as they are
 * needed, so that the memory is that of the two frames and a few rows.
 * @param from width and rows of the input.
 * @returns null where it cannot run.
 */
export function createKernelResize(from: Size, to: Size, down: Taps, across: Taps): ResizePixels | null {
  const kernel = startKernel<Kernel>(RESIZE_KERNEL);
  if (!kernel) return null;
  const end = kernel.place(from.width, from.height, to.width, to.height, down.stride, across.stride);
  growKernel(kernel, end);
  const { buffer } = kernel.memory;
  new Float32Array(buffer, kernel.linearTableAt(), LINEAR_FROM_SRGB8.length).set(LINEAR_FROM_SRGB8);
  new Uint8Array(buffer, kernel.codedTableAt(), SRGB8_FROM_LINEAR.length).set(SRGB8_FROM_LINEAR);
  for (const [at, taps] of [
    [kernel.downFirstAt(), down],
    [kernel.acrossFirstAt(), across],
  ] as const) {
    const length = taps.first.length;
    new Int32Array(buffer, at, length).set(taps.first);
    new Int32Array(buffer, at + length * 4, length).set(taps.count);
    new Float32Array(buffer, at + length * 8, taps.weights.length).set(taps.weights);
  }
  const input = new Uint8Array(buffer, kernel.inputAt(), from.width * from.height * 4);
  const output = new Uint8Array(buffer, kernel.outputAt(), to.width * to.height * 4);
  return (pixels, out) => {
    input.set(pixels);
    kernel.resize();
    out.set(output);
  };
}
