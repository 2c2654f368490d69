import { BLUE_SCALE, growKernel, type KernelMemory, RED_SCALE, startKernel } from '../pixels/index.js';
import { CHROMA_SHARES } from '../settle/index.js';
import { COUNT_KERNEL } from './count-kernel.js';
import { type CountedReel, DIFFERENCE_STEPS, LUMA_STEPS, MOST_DIFFERENCE, SUMS } from './count-work.js';

/** What packages/core/kernel/count.ts exports. */
interface Kernel extends KernelMemory {
  firstFree(): number;
  place(at: number, pixels: number, lumaSteps: number, differenceSteps: number): number;
  begin(blueScale: number, redScale: number, mostDifference: number): void;
  rgbaAt(): number;
  maskingAt(): number;
  durationsAt(): number;
  chromaAt(): number;
  sharesAt(): number;
  countFrame(): number;
}

const BYTES_A_BIN = SUMS * 8;

/** The sums of the bins that are in use, as countPlainly gives them; null where the kernel cannot run. */
export function countFast(reel: CountedReel, from: number, to: number): Float64Array | null {
  const kernel = startKernel<Kernel>(COUNT_KERNEL);
  if (!kernel) return null;
  const { frames, durations, masking, chroma } = reel;
  const pixels = masking.length;
  const sumsAt = kernel.place(kernel.firstFree(), pixels, LUMA_STEPS, DIFFERENCE_STEPS);
  growKernel(kernel, sumsAt);
  kernel.begin(BLUE_SCALE, RED_SCALE, MOST_DIFFERENCE);
  const { memory } = kernel;
  new Float32Array(memory.buffer, kernel.maskingAt(), pixels).set(masking);
  new Uint8Array(memory.buffer, kernel.chromaAt(), pixels).set(chroma);
  new Float64Array(memory.buffer, kernel.sharesAt(), CHROMA_SHARES.length).set(CHROMA_SHARES);
  let bins = 0;
  for (let f = from; f < to; f++) {
    // Every pixel may be of a colour that was not met before.
    growKernel(kernel, sumsAt + (bins + pixels) * BYTES_A_BIN);
    new Uint8Array(memory.buffer, kernel.rgbaAt(), pixels * 4).set(frames[f].rgba);
    new Uint16Array(memory.buffer, kernel.durationsAt(), pixels).set(durations[f]);
    bins = kernel.countFrame();
  }
  return new Float64Array(memory.buffer, sumsAt, bins * SUMS);
}
