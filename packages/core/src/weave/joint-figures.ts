import { percentile } from '../loop/index.js';
import { type CellGrid, openCellSquares } from './cells.js';
import { createPlanes, type Planes } from './planes.js';
import { cellFrames, STILL, type Weave } from './weave.js';
import type { WovenTake } from './woven-take.js';

/** How a reel runs over its joint, beside how its footage runs. The same for every join. */
export interface JointFigures {
  /** The largest step from one frame to the next, the last to the first among them, in usual steps. */
  readonly step: number;
  /** The same block by block: of 95 % of the blocks, none is worse. */
  readonly blockStep: number;
  /** The sharpest turn: the largest second difference in usual ones. */
  readonly bend: number;
}

/** Cells along the side of a block in which steps are compared. */
const BLOCK = 2;
/** Blocks whose cells are less alive than this on average do not count. */
const LEAST_ALIVE = 0.25;
/** A block's own largest usual step: it is as large now and then. */
const OWN_PERCENTILE = 0.95;
/** Where hardly anything moves, a usual step is never taken for less than this, squared levels. */
const LEAST_USUAL = 0.25;

/**
 * @param reel the frames of one round, in the size of the take's planes.
 */
export function jointFigures(take: WovenTake, reel: Planes): JointFigures {
  const { statistics, grid } = take;
  const { noise, alive } = statistics;
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
  const usualStep = Math.max(Math.sqrt(LEAST_USUAL), percentile(whole(taken.steps, 1), 0.5));
  // The weights 1, −2, 1 make the noise three times that of two frames.
  const usualBend = Math.max(Math.sqrt(LEAST_USUAL), percentile(whole(taken.bends, 3), 0.5));
  const ratios = taken.blocks.map(({ cells: block, large }) =>
    Math.sqrt(Math.max(0, ...blockMeans(block, made.steps, noise)) / Math.max(LEAST_USUAL, large)),
  );
  return {
    step: Math.max(0, ...whole(made.steps, 1)) / usualStep,
    bend: Math.max(0, ...whole(made.bends, 3)) / usualBend,
    blockStep: percentile(ratios, 0.95),
  };
}

/** The mean step of some cells, noise taken out, place after place. */
function blockMeans(block: readonly number[], rows: readonly Float32Array[], noise: Float32Array): number[] {
  return rows.map((row) => {
    let sum = 0;
    for (const x of block) sum += Math.max(0, row[x] - noise[x]);
    return sum / block.length;
  });
}

interface Differences {
  /** Squared, from each frame to the next. */
  readonly steps: Float32Array[];
  /** Squared second differences around each frame. */
  readonly bends: Float32Array[];
}

/** What the footage itself does, worked out once a take: weaves of it are measured again and again. */
const known = new WeakMap<WovenTake, OwnDifferences>();

interface OwnDifferences extends Differences {
  /** The blocks that live. */
  readonly blocks: readonly OwnBlock[];
}

/** What is exceeded in a block now and then, squared levels. */
interface OwnBlock {
  readonly cells: readonly number[];
  readonly large: number;
}

function ownDifferences(take: WovenTake): OwnDifferences {
  const there = known.get(take);
  if (there) return there;
  const { statistics, squares, grid } = take;
  const cells = grid.cols * grid.rows;
  const found = differences(statistics.frames, cells, squares.between, false, statistics.steps);
  const { alive, noise } = statistics;
  const blocks = blocksOf(grid, BLOCK)
    .filter((block) => block.reduce((sum, x) => sum + alive[x], 0) >= LEAST_ALIVE * block.length)
    .map((block): OwnBlock => {
      const steps = blockMeans(block, found.steps, noise);
      return { cells: block, large: percentile(steps, OWN_PERCENTILE) };
    });
  const made = { ...found, blocks };
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

/** The same of a weave. */
export function weaveFigures(take: WovenTake, weave: Weave): JointFigures {
  return jointFigures(take, weavePlanes(take, weave));
}

/** One round of a weave as planes, cell by cell without the feather between them: to be measured. */
export function weavePlanes({ planes, grid, statistics, firstFrame }: WovenTake, weave: Weave): Planes {
  const round = createPlanes(planes, weave.length, planes.kernel === null);
  const { pitch, paddedHeight } = planes;
  const bytes = pitch * paddedHeight;
  const { cell, cols } = grid;
  for (let place = 0; place < weave.length; place++) {
    for (const [at, start] of weave.starts.entries()) {
      const shown =
        start === STILL
          ? { frame: statistics.frames, other: statistics.frames, share: 0 }
          : relative(cellFrames(weave, at, weave.first + place), firstFrame);
      const corner = Math.floor(at / cols) * cell * pitch + (at % cols) * cell;
      const half = Math.floor(at / cols) * (cell / 2) * pitch + (at % cols) * cell;
      mixCell(planes.luma, round.luma, bytes, place, shown, corner, cell, cell, pitch);
      mixCell(planes.chroma, round.chroma, bytes / 2, place, shown, half, cell, cell / 2, pitch);
    }
  }
  return round;
}

/** One cell of one plane. @param bytes of a frame in it. */
function mixCell(
  from: Uint8Array,
  to: Uint8Array,
  bytes: number,
  place: number,
  { frame, other, share }: { frame: number; other: number; share: number },
  corner: number,
  wide: number,
  high: number,
  pitch: number,
): void {
  for (let y = 0; y < high; y++) {
    const at = corner + y * pitch;
    const [out, a, b] = [place * bytes + at, frame * bytes + at, other * bytes + at];
    if (share === 0) for (let x = 0; x < wide; x++) to[out + x] = from[a + x];
    else for (let x = 0; x < wide; x++) to[out + x] = from[a + x] + share * (from[b + x] - from[a + x]) + 0.5;
  }
}

function relative(shown: { frame: number; other: number; share: number }, first: number) {
  return { ...shown, frame: shown.frame - first, other: shown.other - first };
}
