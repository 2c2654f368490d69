import { join } from 'node:path';
import { createInBetween } from '../packages/core/src/motion/flow/index.js';
import { createFrame, mixFrames, type PixelFrame } from '../packages/core/src/pixels/index.js';
import { filmedTake, isFilmed } from './filmed-takes.js';
import { drawnJointTake } from './joint-takes.js';
import { decodeAll } from './measure.js';
import { type BenchRow, printTable } from './table.js';

/** Pictures made on each take. */
const PICTURES = 8;
const DEMO_SIZE = { width: 480, height: 270 };
const FILMED_SIZE = { width: 320, height: 240 };
/** dB that no take may fall below a blend, and that some are to gain. */
const MOST_LOST = 0.3;
const LEAST_GAINED = 3;

/** A take, frames from one of its pictures to the next, and whether something whole moves in it. */
interface SlowTake {
  readonly name: string;
  readonly every: number;
  readonly isWhole: boolean;
}

const TAKES: readonly SlowTake[] = [
  { name: 'lantern.mp4', every: 1, isWhole: false },
  { name: 'kettle.mov', every: 1, isWhole: false },
  { name: 'koi.webm', every: 1, isWhole: false },
  { name: 'filmed box', every: 1, isWhole: true },
  { name: 'filmed leaves', every: 1, isWhole: false },
  { name: 'face', every: 2, isWhole: true },
  { name: 'box', every: 2, isWhole: true },
  { name: 'cup', every: 2, isWhole: true },
  { name: 'text', every: 1, isWhole: false },
  { name: 'reflections', every: 1, isWhole: false },
  { name: 'shadows', every: 2, isWhole: false },
  { name: 'water', every: 1, isWhole: false },
  { name: 'smoke, noisy', every: 1, isWhole: false },
  { name: 'crowd', every: 2, isWhole: false },
];

/** Every second picture left out and made again: as it was filmed, against the one before it, a blend, and the flow. */
export async function benchSlow(root: string): Promise<void> {
  printTable(
    'slow',
    TAKES.flatMap((take) => {
      const frames = framesOf(root, take.name);
      return frames ? [rowOf(take, frames)] : [];
    }),
  );
}

function framesOf(root: string, name: string): readonly PixelFrame[] | null {
  if (isFilmed(name)) return filmedTake(root, name, FILMED_SIZE);
  if (!name.includes('.')) return drawnJointTake(name);
  const { width, height } = DEMO_SIZE;
  return decodeAll(join(root, 'demo/footage', name), width, height, true).map((rgba) =>
    createFrame(width, height, new Uint8Array(rgba)),
  );
}

function rowOf({ name, every, isWhole }: SlowTake, frames: readonly PixelFrame[]): BenchRow {
  const maker = createInBetween(frames[0]);
  const step = Math.floor((frames.length - 2 * every - 1) / PICTURES);
  const made = { before: 0, blend: 0, flow: 0 };
  let ms = 0;
  for (let k = 0; k < PICTURES; k++) {
    const [before, truth, after] = [0, 1, 2].map((n) => frames[k * step + n * every]);
    const began = performance.now();
    const flow = maker.frame(before, after, 0.5);
    ms += (performance.now() - began) / PICTURES;
    made.before += likeness(before, truth) / PICTURES;
    made.blend += likeness(mixFrames([before, after], [0.5, 0.5]), truth) / PICTURES;
    made.flow += likeness(flow, truth) / PICTURES;
  }
  const gained = made.flow - made.blend;
  const wanted = isWhole ? LEAST_GAINED : -MOST_LOST;
  const { width, height } = frames[0];
  return {
    what: `${name}: made again (the one before ${made.before.toFixed(1)}, a blend ${made.blend.toFixed(1)} dB; ${ms.toFixed(0)} ms of ${width} × ${height})`,
    figure: `${made.flow.toFixed(1)} dB, ${gained >= 0 ? '+' : '−'}${Math.abs(gained).toFixed(1)}`,
    wanted: `≥ ${isWhole ? '+' : '−'}${Math.abs(wanted)} dB against the blend`,
    reached: gained >= wanted,
  };
}

/** Peak signal to noise of red, green and blue, dB. */
function likeness(a: PixelFrame, b: PixelFrame): number {
  let sum = 0;
  for (let i = 0; i < a.rgba.length; i += 4) {
    for (let c = 0; c < 3; c++) sum += (a.rgba[i + c] - b.rgba[i + c]) ** 2;
  }
  return 10 * Math.log10(255 ** 2 / Math.max(1e-6, sum / (a.width * a.height * 3)));
}
