import { join } from 'node:path';
import { createFlowFinder, flowPicture, warpByFlow } from '../packages/core/src/motion/flow/index.js';
import { type LumaPicture, lumaOf } from '../packages/core/src/motion/index.js';
import { decodeAll } from './measure.js';
import { type BenchRow, printTable } from './table.js';

const SIZE = { width: 480, height: 270 };
const PAIR_MS = 60;
/** Frames from one picture of a pair to the other: about a twelfth of a second. */
const APART = 2;
const PAIRS = 12;

/** Optical flow between filmed frames: how long a pair takes, and how well frames then agree. */
export async function benchFlow(root: string): Promise<void> {
  const rows: BenchRow[] = [];
  for (const file of ['lantern.mp4', 'koi.webm', 'kettle.mov']) {
    const frames = decodeAll(join(root, 'demo/footage', file), SIZE.width, SIZE.height, true)
      .slice(0, PAIRS + APART)
      .map((rgba) => lumaOf(rgba, SIZE, SIZE));
    rows.push(...pairRows(file, frames));
  }
  printTable('flow', rows);
}

function pairRows(file: string, frames: readonly LumaPicture[]): BenchRow[] {
  const pictures = frames.map(flowPicture);
  const fast = createFlowFinder(SIZE);
  fast.between(pictures[0], pictures[APART]);
  const [fastMs, plainMs] = [fast, createFlowFinder(SIZE, true)].map((finder) => {
    const times = frames.slice(APART).map((_, i) => {
      const began = performance.now();
      finder.between(pictures[i], pictures[i + APART]);
      return performance.now() - began;
    });
    return Math.min(...times);
  });
  const still = misfit(frames[0], frames[APART]);
  const led = misfit(frames[0], warpByFlow(frames[APART], fast.between(pictures[0], pictures[APART])));
  return [
    {
      what: `${file}: flow of a pair, ${SIZE.width} × ${SIZE.height}, one thread, least of ${PAIRS}`,
      figure: `${fastMs.toFixed(0)} ms (plain way ${plainMs.toFixed(0)} ms)`,
      wanted: `${PAIR_MS} ms`,
      reached: fastMs <= PAIR_MS,
      isTime: true,
    },
    {
      what: `${file}: mean difference of frames ${APART} apart, led by the flow (and as they are)`,
      figure: `${led.toFixed(2)} levels (${still.toFixed(2)})`,
      wanted: 'less',
      reached: led < still,
    },
  ];
}

function misfit(a: LumaPicture, b: LumaPicture): number {
  return a.values.reduce((sum, value, p) => sum + Math.abs(value - b.values[p]), 0) / a.values.length;
}
