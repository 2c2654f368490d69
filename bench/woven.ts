import { join } from 'node:path';
import { createFrame, createResizer, type PixelFrame, type Size } from '@muted-pond/core/pixels';
import {
  createPlanes,
  FAIR_WEAVE,
  findLengths,
  GOOD_WEAVE,
  lookAtCells,
  makeWeave,
  measureWeave,
  putFrame,
  tablesOf,
  weaveFigures,
  weaveShares,
} from '@muted-pond/core/weave';
import { mixFrames } from '../packages/core/src/pixels/index.js';
import { decodeAll } from './measure.js';
import { type BenchRow, printTable } from './table.js';
import { advisedReel, type BenchTake, type MeasuredReel, openBenchTake, wovenReel } from './woven-reels.js';
import { drawnTakes } from './woven-takes.js';

const SIZE = { width: 480, height: 270 };
/** Frames of each take. */
const FRAMES = 200;
const SHARP = 0.9;
const BEND = 1.5;
/** Figures of two reels are alike within this share. */
const SLACK = 0.05;

/** Woven loops beside the joints that are advised without, on steadied frames; and what they cost. */
export async function benchWoven(root: string): Promise<void> {
  const footage = (name: string) => join(root, 'demo/footage', name);
  const open = async (name: string) => openBenchTake(decodeFrames(footage(name), FRAMES));
  const lantern = await open('lantern.mp4');
  printTable('woven: lantern', [
    ...(await pairRows('lantern off its period, 60 of 72', lantern, 60, await wovenReel(lantern, 60), {
      step: 1.35,
      sharp: SHARP,
      isOffPeriod: true,
    })),
    ...(await periodRows('lantern on its period, 72', lantern, 72, await wovenReel(lantern, 72))),
  ]);
  const kettle = await open('kettle.mov');
  const best = bestLength(kettle);
  printTable('woven: kettle', [
    ...(await pairRows('kettle, 74', kettle, 74, await wovenReel(kettle, 74), { step: 1.25, sharp: 0.995 })),
    ...(await pairRows(`kettle, best length ${best}`, kettle, best, await wovenReel(kettle, best), {
      step: 1.25,
      sharp: 0.995,
    })),
  ]);
  const koi = await open('koi.webm');
  printTable('woven: koi', [
    ...(await periodRows('koi on its period, 90', koi, 90, await wovenReel(koi, 90))),
    ...(await pairRows('koi off its period, 60', koi, 60, await wovenReel(koi, 60), {
      step: 1.35,
      sharp: SHARP,
      isOffPeriod: true,
    })),
  ]);
  printTable('woven: cells of 4 px', await fineRows(kettle, 74));
  printTable('woven: time, 480 × 270, 200 frames', timeRows(lantern));
  printTable('woven: growth', growthRows(kettle));
}

/** The calibration of the bounds of energy, on drawn takes: not part of the usual run, since it takes minutes. */
export async function calibrateWoven(): Promise<void> {
  const rows: BenchRow[] = [];
  for (const { name, period, frames } of drawnTakes()) {
    process.stderr.write(`${name}\n`);
    const take = await openBenchTake(frames);
    const length = period ?? bestLength(take, 30, 90);
    const made = await wovenReel(take, length).catch((error: Error) => error);
    if (made instanceof Error) {
      rows.push({ what: name, figure: made.message, wanted: '', reached: null });
      continue;
    }
    const other = await advisedReel(take, length);
    const { energy, moving } = made.part as NonNullable<MeasuredReel['part']>;
    const band = energy < GOOD_WEAVE ? 'good' : energy < FAIR_WEAVE ? 'fair' : 'not first';
    // As good as what is advised without, or good by itself.
    const runs =
      made.sharp >= Math.min(SHARP, other.sharp - SLACK) &&
      made.joint.bend <= Math.max(BEND, other.joint.bend * (1 + SLACK)) &&
      made.joint.step <= Math.max(BEND, other.joint.step * (1 + SLACK));
    rows.push({
      what: `${name}, ${length} frames`,
      figure: `energy ${energy.toFixed(2)} (${band}), ${Math.round(100 * moving)} % moves, ${figuresOf(made)}`,
      wanted: `${other.words}: ${figuresOf(other)}`,
      reached: band === 'good' ? runs : null,
    });
  }
  printTable('woven: calibration', rows);
}

function figuresOf({ sharp, joint, part }: MeasuredReel): string {
  return `sharp ${sharp.toFixed(2)}, step ${joint.step.toFixed(2)}, bend ${joint.bend.toFixed(2)}${part ? `, seam ${part.seam.score.toFixed(0)}` : ''}`;
}

function bestLength({ looked }: BenchTake, shortest = 50, longest = 110): number {
  const lengths = findLengths(looked.take.planes, shortest, longest);
  return lengths.reduce((a, b) => (b.energy < a.energy ? b : a)).length;
}

interface Wanted {
  readonly step: number;
  readonly sharp: number;
  /** Then it need not be good, if it is not offered first. */
  readonly isOffPeriod?: boolean;
}

async function pairRows(
  what: string,
  take: BenchTake,
  length: number,
  made: MeasuredReel,
  { step, sharp, isOffPeriod }: Wanted,
): Promise<BenchRow[]> {
  const other = await advisedReel(take, length);
  const { energy } = made.part as NonNullable<MeasuredReel['part']>;
  const isFirst = energy < GOOD_WEAVE;
  const isLetOff = isOffPeriod === true && !isFirst;
  const first = isFirst ? 'offered first' : energy < FAIR_WEAVE ? 'with a warning' : 'not first';
  const row = (name: string, figure: number, of: number, wanted: string, isReached: boolean): BenchRow => ({
    what: `${what}: ${name} (${other.words}: ${of.toFixed(2)})`,
    figure: figure.toFixed(2),
    wanted: isOffPeriod ? `${wanted}, or not offered first` : wanted,
    reached: isReached || isLetOff,
  });
  return [
    {
      what: `${what}: ${made.words}, energy a living cell`,
      figure: energy.toFixed(2),
      wanted: first,
      reached: null,
    },
    row('sharpness, lowest 5 %', made.sharp, other.sharp, `≥ ${sharp}`, made.sharp >= sharp),
    row('worst step ÷ usual', made.joint.step, other.joint.step, `≤ ${step}`, made.joint.step <= step),
    row('worst bend ÷ usual', made.joint.bend, other.joint.bend, `≤ ${BEND}`, made.joint.bend <= BEND),
  ];
}

/** Where a cut is good, a weave must be no worse. */
async function periodRows(
  what: string,
  take: BenchTake,
  length: number,
  made: MeasuredReel,
): Promise<BenchRow[]> {
  const cut = await advisedReel(take, length, ['cut']);
  return (['step', 'bend', 'blockStep'] as const).map((name) => ({
    what: `${what}: ${name} (cut: ${cut.joint[name].toFixed(2)})`,
    figure: made.joint[name].toFixed(2),
    wanted: 'no worse',
    reached: made.joint[name] <= cut.joint[name] + 0.02,
  }));
}

/** Whether finer cells pay: energy and figures of both. */
async function fineRows({ looked }: BenchTake, length: number): Promise<BenchRow[]> {
  return ([8, 4] as const).map((cell) => {
    const { planes, firstFrame, plateFrame } = looked.take;
    const take = lookAtCells(planes, firstFrame, plateFrame, cell);
    const from = performance.now();
    const tables = tablesOf(take, length);
    if (!tables) throw new Error('The take is too short.');
    const { weave, moving } = makeWeave(take, tables, { liveliness: 16, decided: null }, 0, '');
    const ms = performance.now() - from;
    const { step, bend } = weaveFigures(take, weave);
    const { score } = measureWeave(take, weave, 1 / 25);
    return {
      what: `kettle, ${length}, cells of ${cell} px`,
      figure: `${ms.toFixed(0)} ms, ${Math.round(100 * moving)} % moves, step ${step.toFixed(2)}, bend ${bend.toFixed(2)}, score ${score.toFixed(0)}`,
      wanted: 'told',
      reached: null,
    };
  });
}

/** The smallest of three. */
function least(run: () => void): number {
  return Math.min(
    ...[0, 1, 2].map(() => {
      const from = performance.now();
      run();
      return performance.now() - from;
    }),
  );
}

function timeRows({ frames }: BenchTake): BenchRow[] {
  const planes = createPlanes(frames[0], frames.length + 1);
  const row = (what: string, ms: number, most: number): BenchRow => ({
    what,
    figure: `${ms.toFixed(0)} ms`,
    wanted: `≤ ${most} ms`,
    reached: ms <= most,
  });
  const putting = least(() => {
    for (const [i, frame] of frames.entries()) putFrame(planes, i, frame);
  });
  putFrame(planes, frames.length, frames[0]);
  const looking = least(() => lookAtCells(planes, 0, 0));
  const searching = least(() => findLengths(planes, 40, 120));
  const take = lookAtCells(planes, 0, 0);
  const tabling = least(() => tablesOf(take, 72));
  const tables = tablesOf(take, 72);
  if (!tables) throw new Error('The take is too short.');
  const solve = () => makeWeave(take, tables, { liveliness: 16, decided: null }, 0, '');
  const solving = least(solve);
  const { weave } = solve();
  const rendering = least(() => {
    for (let place = 0; place < 72; place++) {
      const shares = weaveShares(weave, place);
      const { cols, rows, across, down } = weave;
      const pictures = shares.map(({ frame }) => frames[Math.max(0, frame)]);
      mixFrames(pictures, { cols, rows, across, down, shares: shares.map((one) => one.shares) });
    }
  });
  return [
    row('length search, 81 lengths', searching, 1500),
    row('statistics: planes', putting, 1000),
    row('statistics: cells, with the planes', putting + looking, 1000),
    row('solving, with its tables', tabling + solving, 1000),
    row('a move of the slider', solving, 800),
    row('a frame rendered', rendering / 72, 6),
  ];
}

/** How time and memory grow with pixels and frames. */
function growthRows({ frames }: BenchTake): BenchRow[] {
  const sizes: readonly [Size, number][] = [
    [{ width: 240, height: 136 }, 200],
    [SIZE, 200],
    [SIZE, 400],
    [{ width: 1280, height: 720 }, 200],
    [{ width: 1280, height: 720 }, 400],
  ];
  return sizes.map(([size, count]) => {
    const { resize } = createResizer(frames[0], size);
    const from = performance.now();
    const planes = createPlanes(size, count + 1);
    // There and back, where the take has fewer frames.
    for (let i = 0; i <= count; i++) {
      const at = i % (2 * frames.length - 2);
      putFrame(planes, i, resize(frames[Math.min(at, 2 * frames.length - 2 - at)]));
    }
    const put = performance.now();
    const take = lookAtCells(planes, 0, 0);
    const looked = performance.now();
    const tables = tablesOf(take, 72);
    const made = tables && makeWeave(take, tables, { liveliness: 16, decided: null }, 0, '');
    const solved = performance.now();
    const megabytes =
      (planes.luma.length + planes.chroma.length + 8 * take.statistics.away.length) / 1024 ** 2;
    return {
      what: `${size.width} × ${size.height}, ${count} frames`,
      figure: `planes ${(put - from).toFixed(0)}, cells ${(looked - put).toFixed(0)}, solving ${(solved - looked).toFixed(0)} ms; ${megabytes.toFixed(0)} MB${made ? '' : ' (too short)'}`,
      wanted: 'told',
      reached: null,
    };
  });
}

function decodeFrames(path: string, most: number): PixelFrame[] {
  const all = decodeAll(path, SIZE.width, SIZE.height, true);
  return all.slice(0, most).map((rgba) => createFrame(SIZE.width, SIZE.height, Uint8Array.from(rgba)));
}
