import {
  BLUE_SCALE,
  growKernel,
  type KernelMemory,
  RED_SCALE,
  type Size,
  startKernel,
} from '../pixels/index.js';
import type { Masking } from '../settle/index.js';
import { DRAW_KERNEL } from './draw-kernel.js';
import {
  BEAM,
  chromaSharesOf,
  FADE,
  FIRST_WORTH,
  type FrameDrawer,
  KEPT_SHARE,
  NEAR,
  PATTERN,
  pricesOf,
  SLACK,
  shownColour,
  weightsOf,
} from './draw-work.js';

/** What packages/core/kernel/draw.ts exports. */
interface Kernel extends KernelMemory {
  firstFree(): number;
  place(at: number, width: number, height: number, near: number, beam: number): number;
  tell(
    ...numbers: [blue: number, red: number, kept: number, slack: number, fade: number, first: number]
  ): void;
  rgbaAt(): number;
  durationsAt(): number;
  planAt(): number;
  weightsAt(): number;
  chromasAt(): number;
  shownAt(): number;
  entryColoursAt(): number;
  outAt(): number;
  takePalette(count: number): void;
  begin(hold: number, goesOn: boolean): number;
  showPlanned(): void;
  leftOf(): number;
  topOf(): number;
  rightOf(): number;
  bottomOf(): number;
  draw(
    ...numbers: [
      ...[left: number, top: number, width: number, height: number, isInterlaced: boolean],
      ...[minimumCodeBits: number, clear: number, price: number, most: number, pattern: number],
    ]
  ): number;
}

/** @returns null where the kernel cannot run. */
export function createKernelDrawer(
  { width, height }: Size,
  { masking, chroma }: Masking,
): FrameDrawer | null {
  const kernel = startKernel<Kernel>(DRAW_KERNEL);
  if (!kernel) return null;
  const pixels = width * height;
  growKernel(kernel, kernel.place(kernel.firstFree(), width, height, NEAR, BEAM));
  kernel.tell(BLUE_SCALE, RED_SCALE, KEPT_SHARE, SLACK, FADE, FIRST_WORTH);
  const { buffer } = kernel.memory;
  const rgbaHere = new Uint8Array(buffer, kernel.rgbaAt(), pixels * 4);
  const durationsHere = new Uint16Array(buffer, kernel.durationsAt(), pixels);
  const planHere = new Uint8Array(buffer, kernel.planAt(), pixels);
  const entryColours = new Uint32Array(buffer, kernel.entryColoursAt(), 256);
  new Float32Array(buffer, kernel.weightsAt(), pixels).set(weightsOf(masking));
  new Float32Array(buffer, kernel.chromasAt(), pixels).set(chromaSharesOf(chroma));
  return {
    shown: new Uint32Array(buffer, kernel.shownAt(), pixels),
    takePalette(palette) {
      entryColours.set(palette.map(shownColour));
      kernel.takePalette(palette.length);
    },
    begin({ rgba, durations, plan }, { hold, goesOn }) {
      rgbaHere.set(rgba);
      durationsHere.set(durations);
      planHere.set(plan);
      if (!kernel.begin(hold, goesOn)) return null;
      const [left, top] = [kernel.leftOf(), kernel.topOf()];
      return { left, top, width: kernel.rightOf() - left, height: kernel.bottomOf() - top };
    },
    showPlanned: () => kernel.showPlanned(),
    draw(rect, { isInterlaced, minimumCodeBits, transparentIndex, squeeze, isDithered }) {
      const { code, limit } = pricesOf(squeeze);
      const bytes = kernel.draw(
        ...([rect.left, rect.top, rect.width, rect.height, isInterlaced] as const),
        ...([minimumCodeBits, transparentIndex ?? -1, code, limit, isDithered ? PATTERN : 0] as const),
      );
      return new Uint8Array(buffer, kernel.outAt(), bytes);
    },
  };
}
