import { type CellProblem, cellProblem, type WeaveWishes } from './cell-problem.js';
import { type CellGrid, type CellSquares, gridOf, openCellSquares } from './cells.js';
import { type LengthTables, lengthTables } from './length-tables.js';
import type { Planes } from './planes.js';
import { solveLabels } from './solve.js';
import { type CellStatistics, cellStatistics } from './statistics.js';
import { meltOf, STILL, type Weave } from './weave.js';

/** A take looked at cell by cell, from which weaves of any length are made. */
export interface WovenTake {
  readonly planes: Planes;
  readonly grid: CellGrid;
  readonly squares: CellSquares;
  readonly statistics: CellStatistics;
  /** The frame of the take that the first of the planes is. */
  readonly firstFrame: number;
  /** The frame of the take that still cells show. */
  readonly plateFrame: number;
}

/** Side of a cell, px of the picture that is looked at. */
const CELL = 8;
/** A frame of mismatch along one side of a cell counts half a jump of the whole cell. */
const SPATIAL = 0.5;

/**
 * @param planes the frames, and behind them the plate.
 * @param firstFrame the frame of the take that the first of them is.
 */
export function lookAtCells(
  planes: Planes,
  firstFrame: number,
  plateFrame: number,
  cell: 4 | 8 = CELL,
): WovenTake {
  const grid = gridOf(planes, cell);
  return {
    planes,
    grid,
    squares: openCellSquares(planes, grid),
    statistics: cellStatistics(planes, grid, null),
    firstFrame,
    plateFrame,
  };
}

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

/** What a length costs everywhere in a take; kept while only the wishes change. */
export function tablesOf(take: WovenTake, length: number): LengthTables | null {
  return lengthTables(take.squares, take.statistics, length, SPATIAL * (CELL / take.grid.cell));
}

/** What came of it. */
export interface MadeWeave {
  readonly weave: Weave;
  /** Least energy found, a living cell, squared usual steps: how well the take can be woven. */
  readonly energy: number;
  /** The part of the picture that moves, 0–1. */
  readonly moving: number;
}

/**
 * @param first the frame of the take that the first place of the round stands for.
 * @param id a hash of all that it is made from.
 */
export function makeWeave(
  take: WovenTake,
  tables: LengthTables,
  wishes: WeaveWishes,
  first: number,
  id: string,
): MadeWeave {
  const found = cellProblem(tables, take.grid, wishes);
  const { labels, energy } = solveLabels(found, take.grid);
  const weave = { id, ...weaveOf(take, tables, found, labels, first) };
  return { weave, energy: energy / Math.max(1, found.living), moving: movingPart(weave) };
}

function weaveOf(
  { grid, statistics, firstFrame, plateFrame }: WovenTake,
  { length, firstStart, starts: count, jump }: LengthTables,
  { cellOf }: CellProblem,
  labels: Int32Array,
  first: number,
): Omit<Weave, 'id'> {
  const cells = grid.cols * grid.rows;
  const starts = new Array<number>(cells).fill(STILL);
  const melts = new Array<number>(cells).fill(0);
  for (const [node, cell] of cellOf.entries()) {
    const label = labels[node];
    if (label === count) continue;
    starts[cell] = firstFrame + firstStart + label;
    melts[cell] = meltOf(jump[cell * count + label]);
  }
  return {
    length,
    first,
    from: firstFrame,
    to: firstFrame + statistics.frames,
    across: grid.width / grid.cell,
    down: grid.height / grid.cell,
    cols: grid.cols,
    rows: grid.rows,
    starts,
    rounds: new Array<number>(cells).fill(1),
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
