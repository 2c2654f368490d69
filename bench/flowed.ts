import {
  closedReel,
  createMovementFinder,
  findFlowPlaces,
  makeLoop,
  measureJoint,
  PLAIN_LOOP,
  USUAL_LOOP_LENGTH,
} from '@muted-pond/core/loop';
import { createFrame, createResizer, type PixelFrame, type Size } from '@muted-pond/core/pixels';
import type { LedPlace } from '@muted-pond/core/timing';
import { createLedJoints } from '../packages/core/src/render/steps/led-joints.js';
import { drawnJointTake } from './joint-takes.js';
import { looksOf, measuredFrames } from './looks.js';
import { type BenchRow, printTable } from './table.js';

const RATE = 25;
/** A box that is held by a hand, off any period. */
const TAKE = { name: 'box', span: { start: 40, end: 76 } };
const RUNS = 5;
const MB = 1024 * 1024;

/** Each with how long it may take, ms. */
const JOINTS = [
  { what: 'a joint of 8 frames at 480 × 270', size: { width: 480, height: 270 }, frames: 8, wanted: 1000 },
  { what: 'a joint of 8 frames at 240 × 136', size: { width: 240, height: 136 }, frames: 8, wanted: 400 },
];
const LARGE = { size: { width: 1280, height: 720 }, frames: 12, most: 1200 };
const SCORE_MS = 400;
const PLACES = { frames: 300, wanted: 3000 };

/** What a joint that flows costs, flows, plan and pictures together, on one thread. */
export async function benchFlowed(): Promise<void> {
  const take = drawnJointTake(TAKE.name);
  const rows = JOINTS.map(({ what, size, frames, wanted }) => {
    const large = inSize(take, size);
    return timeRow(`${what}, least of ${RUNS}`, wanted, () => makeJoint(large, size, frames));
  });
  printTable('flowed', [...rows, scoreRow(take), await placesRow(take), memoryRow(take)]);
}

function flowedLoop(frames: number, count: number) {
  const times = { starts: Array.from({ length: count }, (_, i) => i / RATE), duration: count / RATE };
  const join = { kind: 'flowed', frames } as const;
  return makeLoop(times, TAKE.span, 'source', 1, { ...PLAIN_LOOP, join });
}

function placesOf(frames: number, count: number): LedPlace[] {
  return flowedLoop(frames, count).reel.flatMap(({ blend }) => (blend?.led ? [blend.led] : []));
}

function inSize(take: readonly PixelFrame[], size: Size): PixelFrame[] {
  const resizer = createResizer(take[0], size);
  return take.map((frame) => createFrame(size.width, size.height, resizer.resize(frame).rgba.slice()));
}

function makeJoint(take: readonly PixelFrame[], size: Size, frames: number): void {
  const joints = createLedJoints(size, ({ source }) => take[source]);
  for (const place of placesOf(frames, take.length)) joints.picture(place);
}

function scoreRow(take: readonly PixelFrame[]): BenchRow {
  const looks = looksOf(take);
  const loop = flowedLoop(8, take.length);
  return timeRow(`the score of a joint of 8 frames, nothing known before, least of ${RUNS}`, SCORE_MS, () =>
    measureJoint(
      { at: (frame) => looks[frame] ?? null },
      createMovementFinder(looks[0].luma),
      closedReel(loop),
    ),
  );
}

/** Places of a whole take, on one thread; what is looked for does not depend on the take's coming back. */
async function placesRow(take: readonly PixelFrame[]): Promise<BenchRow> {
  const { frames, wanted } = PLACES;
  const long = measuredFrames(Array.from({ length: frames }, (_, i) => take[i % take.length]));
  const times = { starts: Array.from({ length: frames }, (_, i) => i / RATE), duration: frames / RATE };
  const window = { start: 0, end: frames };
  const ask = { window, within: window, length: USUAL_LOOP_LENGTH, every: 1, weights: null };
  const spent: number[] = [];
  for (let run = 0; run < RUNS; run++) {
    const began = performance.now();
    await findFlowPlaces(long, times, ask);
    spent.push(performance.now() - began);
  }
  const least = Math.min(...spent);
  return {
    what: `places of ${frames} frames at which the end can flow into the start, least of ${RUNS}`,
    figure: `${least.toFixed(0)} ms`,
    wanted: `${wanted} ms`,
    reached: least <= wanted,
    isTime: true,
  };
}

function timeRow(what: string, wanted: number, work: () => unknown): BenchRow {
  const times = Array.from({ length: RUNS }, () => {
    const began = performance.now();
    work();
    return performance.now() - began;
  });
  const least = Math.min(...times);
  return {
    what: `${what} (the first ${times[0].toFixed(0)} ms)`,
    figure: `${least.toFixed(0)} ms`,
    wanted: `${wanted} ms`,
    reached: least <= wanted,
    isTime: true,
  };
}

/** The frames themselves included, as they are when a reel is made. */
function memoryRow(take: readonly PixelFrame[]): BenchRow {
  const { size, frames, most } = LARGE;
  const needed = new Set(placesOf(frames, take.length)[0].pairs.flatMap(({ from, to }) => [from, to]));
  const resizer = createResizer(take[0], size);
  const large = new Map<number, PixelFrame>();
  for (const { source } of needed) {
    large.set(source, createFrame(size.width, size.height, resizer.resize(take[source]).rgba.slice()));
  }
  const joints = createLedJoints(size, ({ source }) => large.get(source) as PixelFrame);
  let peak = 0;
  for (const place of placesOf(frames, take.length)) {
    joints.picture(place);
    peak = Math.max(peak, process.memoryUsage().rss);
  }
  return {
    what: `${frames} frames of ${size.width} × ${size.height}: memory of the whole process`,
    figure: `${(peak / MB).toFixed(0)} MB`,
    wanted: `${most} MB`,
    reached: peak / MB <= most,
  };
}
