import { cellProblem, type WeaveWishes } from './cell-problem.js';
import { fuseRounds, type RoundSolution } from './fuse-rounds.js';
import { type LengthTables, lengthTables } from './length-tables.js';
import { solveLabels } from './solve.js';
import { meltOf, STILL, type Weave } from './weave.js';
import { CELL, type WovenTake } from './woven-take.js';

/** A frame of mismatch along one side of a cell counts half a jump of the whole cell. */
const SPATIAL = 0.5;

/**
 * The living part of the picture that lies under some cells: those that are alive and touch each other.
 * @param touched 0–255, one a cell.
 * @returns 255 for each cell of it; the touched cells alone where nothing lives there.
 */
export function livingPart({ statistics: { alive }, grid }: WovenTake, touched: Uint8Array): Uint8Array {
  const { cols, rows } = grid;
  const part = touched.map((value) => (value >= 128 ? 255 : 0));
  const waiting = [...part.keys()].filter((cell) => part[cell] > 0 && alive[cell] > 0);
  for (let at = waiting.pop(); at !== undefined; at = waiting.pop()) {
    const [x, y] = [at % cols, Math.floor(at / cols)];
    for (const [u, v] of [
      [x - 1, y],
      [x + 1, y],
      [x, y - 1],
      [x, y + 1],
    ]) {
      const other = v * cols + u;
      if (u < 0 || v < 0 || u >= cols || v >= rows || part[other] > 0 || alive[other] === 0) continue;
      part[other] = 255;
      waiting.push(other);
    }
  }
  return part;
}

/** What came of it. */
export interface MadeWeave {
  readonly weave: Weave;
  /** Least energy found, a living cell, squared usual steps: how well the take can be woven. */
  readonly energy: number;
  /** The part of the picture that moves, 0–1. */
  readonly moving: number;
  /** The part that is alive in the footage and may move, 0–1. */
  readonly living: number;
}

/** A round that comes twice or three times in the common one is no shorter than this, frames. */
const SHORTEST_ROUND = 8;

/**
 * What a common length and its whole parts cost: the length itself, its half, its third, as far as they are
 * whole frames.
 */
export interface RoundTables {
  readonly common: LengthTables;
  readonly parts: readonly { readonly rounds: number; readonly tables: LengthTables }[];
}

/** What a length costs everywhere in a take; kept while only the wishes change. Null where it is too short. */
export function tablesOf(take: WovenTake, length: number): RoundTables | null {
  const of = (frames: number) => lengthTables(take.squares, take.statistics, frames, spatialOf(take));
  const common = of(length);
  if (!common) return null;
  const parts = [2, 3].flatMap((rounds) => {
    if (length % rounds !== 0 || length / rounds < SHORTEST_ROUND) return [];
    const tables = of(length / rounds);
    return tables ? [{ rounds, tables }] : [];
  });
  return { common, parts };
}

function spatialOf({ grid }: WovenTake): number {
  return SPATIAL * (CELL / grid.cell);
}

/**
 * @param first the frame of the take that the first place of the round stands for.
 * @param id a hash of all that it is made from.
 */
export function makeWeave(
  take: WovenTake,
  { common, parts }: RoundTables,
  wishes: WeaveWishes,
  first: number,
  id: string,
): MadeWeave {
  const { grid } = take;
  const solve = (rounds: number, tables: LengthTables): RoundSolution & { readonly energy: number } => {
    const found = cellProblem(tables, grid, wishes);
    return { rounds, tables, found, ...solveLabels(found, grid) };
  };
  const whole = solve(1, common);
  // Where the common round is good everywhere, its parts have nothing to add.
  const energy = whole.energy / Math.max(1, whole.found.living);
  const solutions =
    energy < GOOD_ENOUGH ? [whole] : [whole, ...parts.map(({ rounds, tables }) => solve(rounds, tables))];
  const chosen = solutions.length > 1 ? fuseRounds(take, solutions, spatialOf(take)) : null;
  const weave = { id, ...weaveOf(take, solutions, chosen, first) };
  const cells = grid.cols * grid.rows;
  return { weave, energy, moving: movingPart(weave), living: whole.found.living / cells };
}

/** Energy a living cell below which shorter rounds are not tried. */
const GOOD_ENOUGH = 2.5;

/** @param chosen which solution each node takes; null: the first. */
function weaveOf(
  { grid, statistics, firstFrame, plateFrame }: WovenTake,
  solutions: readonly RoundSolution[],
  chosen: Int32Array | null,
  first: number,
): Omit<Weave, 'id'> {
  const [{ found, tables: common }] = solutions;
  const cells = grid.cols * grid.rows;
  const starts = new Array<number>(cells).fill(STILL);
  const rounds = new Array<number>(cells).fill(1);
  const melts = new Array<number>(cells).fill(0);
  for (const [node, cell] of found.cellOf.entries()) {
    const { rounds: often, tables, labels } = solutions[chosen?.[node] ?? 0];
    const label = labels[node];
    if (label === tables.starts) continue;
    starts[cell] = firstFrame + tables.firstStart + label;
    rounds[cell] = often;
    melts[cell] = meltOf(tables.jump[cell * tables.starts + label]);
  }
  return {
    length: common.length,
    first,
    from: firstFrame,
    to: firstFrame + statistics.frames,
    across: grid.width / grid.cell,
    down: grid.height / grid.cell,
    cols: grid.cols,
    rows: grid.rows,
    starts,
    rounds,
    melts,
    plate: plateFrame,
  };
}

/** The part of the picture whose cells go round, 0–1. */
function movingPart({ starts }: Weave): number {
  return starts.filter((start) => start !== STILL).length / starts.length;
}

/**
 * Over how many frames the joint is spread: the shortest stretch of the round in which nine tenths of what moves
 * change over, melts included.
 */
export function jointSpread({ starts, melts, length, first }: Weave): number {
  const moving = [...starts.keys()].filter((cell) => starts[cell] !== STILL);
  if (moving.length === 0) return 0;
  const places = moving
    .map((cell) => (((starts[cell] - first) % length) + length) % length)
    .sort((a, b) => a - b);
  const wanted = Math.ceil(SPREAD_SHARE * places.length);
  let shortest = length;
  for (let i = 0; i < places.length; i++) {
    const last = i + wanted - 1;
    const end = places[last % places.length] + (last >= places.length ? length : 0);
    shortest = Math.min(shortest, end - places[i]);
  }
  const melt = moving.reduce((sum, cell) => sum + melts[cell], 0) / moving.length;
  return Math.min(length, shortest + Math.max(1, melt));
}

const SPREAD_SHARE = 0.9;
