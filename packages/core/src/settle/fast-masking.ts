import { growKernel, type KernelMemory, type Size, startKernel } from '../pixels/index.js';
import { MASKING_KERNEL } from './masking-kernel.js';
import { type MaskingTools, SIDE } from './plain-masking.js';

/** What packages/core/kernel/masking.ts exports. */
interface Kernel extends KernelMemory {
  firstFree(): number;
  place(at: number, width: number, height: number, side: number): number;
  rgbaAt(): number;
  outAt(): number;
  classesAt(): number;
  lightsAt(): number;
  coloursAt(): number;
  measure(): void;
  spread(ofColours: boolean): void;
  classify(least: number, step: number, most: number): void;
}

/** The same by the kernel; null where it cannot run. */
export function startFastMasking({ width, height }: Size): MaskingTools | null {
  const kernel = startKernel<Kernel>(MASKING_KERNEL);
  if (!kernel) return null;
  growKernel(kernel, kernel.place(kernel.firstFree(), width, height, SIDE));
  const { buffer } = kernel.memory;
  const pixels = width * height;
  const squares = Math.ceil(width / SIDE) * Math.ceil(height / SIDE);
  return {
    lights: new Float32Array(buffer, kernel.lightsAt(), squares),
    colours: new Float32Array(buffer, kernel.coloursAt(), squares),
    measure(frame) {
      new Uint8Array(buffer, kernel.rgbaAt(), pixels * 4).set(frame.rgba);
      kernel.measure();
    },
    spreadLights() {
      kernel.spread(false);
      return new Float32Array(buffer, kernel.outAt(), pixels).slice();
    },
    classify(least, step, most) {
      kernel.spread(true);
      kernel.classify(least, step, most);
      return new Uint8Array(buffer, kernel.classesAt(), pixels).slice();
    },
  };
}
