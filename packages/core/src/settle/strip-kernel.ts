import { growKernel, type KernelMemory, startKernel } from '../pixels/index.js';
import { SETTLE_KERNEL } from './settle-kernel.js';
import { NEIGHBOUR_COST, type SettleStrip, type StripWork } from './strip-work.js';

/** What packages/core/kernel/settle.ts exports. */
interface Kernel extends KernelMemory {
  firstFree(): number;
  place(base: number, frames: number, pixels: number): number;
  picturesAt(): number;
  durationsAt(): number;
  maskingAt(): number;
  neighbourCostAt(): number;
  settleStrip(width: number, rows: number, price: number): void;
}

/**
 * Settling a strip with the SIMD kernel: the rows are copied in and out. The same algorithm as createPlainStrip in single
 * precision, about five times as fast.
 * @returns null where it cannot run.
 */
export function createKernelStrip(work: StripWork): SettleStrip | null {
  const kernel = startKernel<Kernel>(SETTLE_KERNEL);
  if (!kernel) return null;
  const { frames, durations, masking, width, mostRows, price } = work;
  const stride = (width * mostRows + 3) & ~3;
  growKernel(kernel, kernel.firstFree() + frames.length * (stride * 9 + 160) + stride * 8 + 4096);
  kernel.place(kernel.firstFree(), frames.length, width * mostRows);
  const { buffer } = kernel.memory;
  const pictures = new Uint8Array(buffer, kernel.picturesAt(), frames.length * stride * 4);
  const lengths = new Uint16Array(buffer, kernel.durationsAt(), frames.length * stride);
  const masks = new Float32Array(buffer, kernel.maskingAt(), stride);
  new Float32Array(buffer, kernel.neighbourCostAt(), NEIGHBOUR_COST.length).set(NEIGHBOUR_COST);

  return (top, rows) => {
    const offset = top * width;
    const pixels = rows * width;
    masks.set(masking.subarray(offset, offset + pixels));
    frames.forEach((frame, f) => {
      pictures.set(frame.rgba.subarray(offset * 4, (offset + pixels) * 4), f * stride * 4);
    });
    kernel.settleStrip(width, rows, price);
    frames.forEach((frame, f) => {
      frame.rgba.set(pictures.subarray(f * stride * 4, (f * stride + pixels) * 4), offset * 4);
      durations[f].set(lengths.subarray(f * stride, f * stride + pixels), offset);
    });
  };
}
