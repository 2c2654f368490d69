import { cellProblem } from './cell-problem.js';
import { gridOf, openCellSquares } from './cells.js';
import { everyNthStart } from './label-problem.js';
import { lengthTables } from './length-tables.js';
import { passMessages } from './messages.js';
import { type Planes, quarterPlanes } from './planes.js';
import { cellStatistics } from './statistics.js';

/** How well a length suits a take; less energy is better. */
export interface LengthEnergy {
  readonly length: number;
  /** A living cell, squared usual steps. */
  readonly energy: number;
}

/** Under this energy a living cell, a weave is good; … */
export const GOOD_WEAVE = 5;
/** … under this, parts of it will stand still; above, things cross each other and nothing suits them. */
export const FAIR_WEAVE = 9;

/** The slider's middle: lengths are compared as if it stood there. */
export const USUAL_LIVELINESS = 16;
const ROUNDS = 6;
const GAP = 0.03;
const STRIDE = 2;
/** Lengths are looked at first every n-th, then all around the best few. */
const COARSE_EVERY = 2;
const REFINED = 3;
/** Cells of 16 px of the reel: coarse frontiers count as much as fine ones do together. */
const SPATIAL = 1;

/**
 * Energies of common lengths, from `shortest` to `longest` frames, on a quarter of the picture's sides. Lengths
 * that are far from the best are only looked at every other frame.
 * @param planes with the plate behind the frames.
 * @returns rising by length; none where the take is too short.
 */
export function findLengths(
  planes: Planes,
  shortest: number,
  longest: number,
  onProgress: (done: number) => void = () => {},
): LengthEnergy[] {
  const small = quarterPlanes(planes);
  const grid = gridOf(small, 4);
  const statistics = cellStatistics(small, grid);
  const squares = openCellSquares(small, grid);
  const found = new Map<number, number>();
  const look = (length: number) => {
    if (length < shortest || length > longest || found.has(length)) return;
    const tables = lengthTables(squares, statistics, length, SPATIAL);
    if (!tables) return;
    const { problem, living } = cellProblem(tables, grid, { liveliness: USUAL_LIVELINESS, decided: null });
    const { energy } = passMessages(everyNthStart(problem, STRIDE), ROUNDS, GAP);
    found.set(length, energy / Math.max(1, living));
  };
  const count = Math.ceil((longest - shortest + 1) / COARSE_EVERY);
  for (let k = 0; k < count; k++) {
    look(shortest + k * COARSE_EVERY);
    onProgress((k + 1) / count);
  }
  const best = [...found].sort((a, b) => a[1] - b[1]).slice(0, REFINED);
  for (const [length] of best) for (const other of [length - 1, length + 1]) look(other);
  return [...found].map(([length, energy]) => ({ length, energy })).sort((a, b) => a.length - b.length);
}
