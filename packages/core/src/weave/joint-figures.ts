import { seamScore } from '../loop/index.js';
import { type CellGrid, openCellSquares } from './cells.js';
import type { WovenTake } from './make-weave.js';
import { createPlanes, type Planes } from './planes.js';
import { cellFrames, STILL, type Weave } from './weave.js';

/** How a reel runs over its joint, beside how its footage runs. The same for every join. */
export interface JointFigures {
  /** The largest step from one frame to the next, the last to the first among them, in usual steps. */
  readonly step: number;
  /** The same block by block: of 95 % of the blocks, none is worse. */
  readonly blockStep: number;
  /** The sharpest turn: the largest second difference in usual ones. */
  readonly bend: number;
  /** How unnoticeable the joint is, 0–100, judged by its worst blocks. */
  readonly score: number;
}

/** Cells along the side of a block: where steps are compared, and for the score, which noise must not decide. */
const BLOCK = 2;
const SCORED_BLOCK = 6;
/** Blocks whose cells are less alive than this on average do not count. */
const LEAST_ALIVE = 0.25;
/** A block's own largest usual step: it is as large now and then. */
const OWN_QUANTILE = 0.95;
/** Where hardly anything moves, a usual step is never taken for less than this, squared levels. */
const LEAST_USUAL = 0.25;

/**
 * @param reel the frames of one round, in the size of the take's planes.
 * @param shown which frame of the planes a cell shows at a place of it, or most of.
 */
export function jointFigures(
  take: WovenTake,
  reel: Planes,
  shown: (place: number, cell: number) => number,
): JointFigures {
  const { statistics, grid } = take;
  const { frames, steps, noise, alive } = statistics;
  const cells = grid.cols * grid.rows;
  const looked = openCellSquares(reel, grid);
  const taken = ownDifferences(take);
  const made = differences(reel.count, cells, looked.between, true);
  const living = alive.map((value) => (value > 0 ? 1 : 0));
  const whole = (of: Float32Array[], noiseShare: number) =>
    of.map((row) => {
      let [sum, count] = [0, 0];
      for (let x = 0; x < cells; x++) {
        sum += living[x] * Math.max(0, row[x] - noiseShare * noise[x]);
        count += living[x];
      }
      return Math.sqrt(sum / Math.max(1, count));
    });
  const usualStep = Math.max(Math.sqrt(LEAST_USUAL), quantile(whole(taken.steps, 1), 0.5));
  // The weights 1, −2, 1 make the noise three times that of two frames.
  const usualBend = Math.max(Math.sqrt(LEAST_USUAL), quantile(whole(taken.bends, 3), 0.5));
  // What the footage itself does there: after the frame that is shown, and before the one that follows.
  const expected = (block: readonly number[], place: number) => {
    let [after, before] = [0, 0];
    for (const x of block) {
      const [now, next] = [shown(place, x), shown((place + 1) % reel.count, x)];
      after += Math.max(0, ownStep(now, x) - noise[x]);
      before += Math.max(0, ownStep(next - 1, x) - noise[x]);
    }
    return Math.max(after, before) / block.length;
  };
  const ownStep = (frame: number, x: number) => steps[Math.max(0, Math.min(frames - 2, frame)) * cells + x];
  const blockMeans = (block: readonly number[], rows: readonly Float32Array[]) =>
    rows.map((row) => block.reduce((sum, x) => sum + Math.max(0, row[x] - noise[x]), 0) / block.length);
  const isAlive = (block: readonly number[]) =>
    block.reduce((sum, x) => sum + alive[x], 0) >= LEAST_ALIVE * block.length;
  const ratios = blocksOf(grid, BLOCK)
    .filter(isAlive)
    .map((block) => {
      const large = quantile(blockMeans(block, taken.steps), OWN_QUANTILE);
      return Math.sqrt(Math.max(0, ...blockMeans(block, made.steps)) / Math.max(LEAST_USUAL, large));
    });
  const scores = blocksOf(grid, SCORED_BLOCK)
    .filter(isAlive)
    .map((block) => {
      const usual = quantile(blockMeans(block, taken.steps), 0.75);
      const beyond = blockMeans(block, made.steps).map((step, place) => step - expected(block, place));
      return seamScore(Math.sqrt(Math.max(0, ...beyond)), Math.sqrt(usual));
    });
  return {
    step: Math.max(0, ...whole(made.steps, 1)) / usualStep,
    bend: Math.max(0, ...whole(made.bends, 3)) / usualBend,
    blockStep: quantile(ratios, 0.95),
    score: Math.min(100, ...scores),
  };
}

interface Differences {
  /** Squared, from each frame to the next. */
  readonly steps: Float32Array[];
  /** Squared second differences around each frame. */
  readonly bends: Float32Array[];
}

/** What the footage itself does, worked out once a take: weaves of it are measured again and again. */
const known = new WeakMap<WovenTake, Differences>();

function ownDifferences(take: WovenTake): Differences {
  const there = known.get(take);
  if (there) return there;
  const { statistics, squares, grid } = take;
  const cells = grid.cols * grid.rows;
  const made = differences(statistics.frames, cells, squares.between, false, statistics.steps);
  known.set(take, made);
  return made;
}

/** |a − 2b + c|² = 2|a − b|² + 2|b − c|² − |a − c|². */
function differences(
  frames: number,
  cells: number,
  between: (a: number, b: number, out: Float32Array) => void,
  isRound: boolean,
  given?: Float32Array,
): Differences {
  const last = isRound ? frames : frames - 1;
  const steps = Array.from({ length: last }, (_, f) => {
    if (given) return given.subarray(f * cells, (f + 1) * cells);
    const row = new Float32Array(cells);
    between(f, (f + 1) % frames, row);
    return row;
  });
  const skip = new Float32Array(cells);
  const bends = Array.from({ length: Math.max(0, isRound ? frames : frames - 2) }, (_, f) => {
    between(f, (f + 2) % frames, skip);
    const [before, after] = [steps[f], steps[(f + 1) % frames]];
    return skip.map((far, x) => Math.max(0, 2 * before[x] + 2 * after[x] - far));
  });
  return { steps, bends };
}

/** Squares of so many cells, those at the edges cut off. */
function blocksOf({ cols, rows }: CellGrid, side: number): number[][] {
  const blocks = new Map<number, number[]>();
  for (let cell = 0; cell < cols * rows; cell++) {
    const block = Math.floor(Math.floor(cell / cols) / side) * cols + Math.floor((cell % cols) / side);
    const members = blocks.get(block);
    if (members) members.push(cell);
    else blocks.set(block, [cell]);
  }
  return [...blocks.values()];
}

function quantile(values: readonly number[], share: number): number {
  if (values.length === 0) return 0;
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(share * (sorted.length - 1))];
}

/** The same of a weave. */
export function weaveFigures(take: WovenTake, weave: Weave): JointFigures {
  return jointFigures(take, weavePlanes(take, weave), (place, cell) =>
    weave.starts[cell] === STILL
      ? take.statistics.frames
      : cellFrames(weave, cell, weave.first + place).frame - take.firstFrame,
  );
}

/** One round of a weave as planes, cell by cell without the feather between them: to be measured. */
export function weavePlanes({ planes, grid, statistics, firstFrame }: WovenTake, weave: Weave): Planes {
  const round = createPlanes(planes, weave.length, planes.kernel === null);
  const { pitch, paddedHeight } = planes;
  const bytes = pitch * paddedHeight;
  const { cell, cols } = grid;
  const mixCell = (
    table: 'luma' | 'chroma',
    [to, one, other]: readonly [number, number, number],
    share: number,
    [column, row, high]: readonly [number, number, number],
  ) => {
    for (let y = row; y < row + high; y++) {
      const at = y * pitch + column;
      const [a, b] = [one + at, other + at];
      for (let x = 0; x < cell; x++) {
        const value = planes[table][a + x];
        round[table][to + at + x] =
          share === 0 ? value : value + share * (planes[table][b + x] - value) + 0.5;
      }
    }
  };
  for (let place = 0; place < weave.length; place++) {
    for (const [at, start] of weave.starts.entries()) {
      const shown =
        start === STILL
          ? { frame: statistics.frames, other: statistics.frames, share: 0 }
          : relative(cellFrames(weave, at, weave.first + place), firstFrame);
      const [column, row] = [(at % cols) * cell, Math.floor(at / cols) * cell];
      const of = (scale: number) =>
        [(place * bytes) / scale, (shown.frame * bytes) / scale, (shown.other * bytes) / scale] as const;
      mixCell('luma', of(1), shown.share, [column, row, cell]);
      mixCell('chroma', of(2), shown.share, [column, row / 2, cell / 2]);
    }
  }
  return round;
}

function relative(shown: { frame: number; other: number; share: number }, first: number) {
  return { ...shown, frame: shown.frame - first, other: shown.other - first };
}
