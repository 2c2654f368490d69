import { FIRST_TAP, WOVEN_ROOM as ROOM, TAPS } from '../loop/index.js';
import type { CellSquares } from './cells.js';
import { type CellStatistics, NOISE_TAKEN, plainness } from './statistics.js';

/** What starting the round of a cell at one frame or another costs, for one length. Squared usual steps. */
export interface LengthTables {
  /** Length of a round, frames. */
  readonly length: number;
  /** The frame that start 0 is, and how many starts there are. */
  readonly firstStart: number;
  readonly starts: number;
  /** How far what should follow the last frame of a round is from its first: cells × starts. */
  readonly jump: Float32Array;
  /** How much life the stretch lacks, 0–1, as far as the cell is alive: cells × starts. */
  readonly dull: Float32Array;
  /** What the frontier between a start and the next one shows in the frame in which they differ. */
  readonly change: Float32Array;
  /** What the frontier to the plate shows over the frames of the round. */
  readonly still: Float32Array;
  readonly alive: Float32Array;
}

/** A stretch in which a cell varies half as much as it usually does is lively enough. */
const LIVELY_SHARE = 0.5;
/** Such stretches begin at every n-th frame. */
const USUAL_EVERY = 6;
/** Variance below this is none, squared levels. */
const LEAST_VARIANCE = 0.2;
/** What is usual is looked for in stretches of this share of the take: something that passes once is not missed. */
const USUAL_SHARE = 0.45;

/** How many starts a take has for a length; none where below 2. */
function startsOf(frames: number, length: number): number {
  return frames - length - 2 * ROOM + 1;
}

/**
 * @param spatial what a frame of mismatch along one side of a cell counts against a jump of the whole cell.
 * @returns null where the take is too short for that length.
 */
export function lengthTables(
  squares: CellSquares,
  statistics: CellStatistics,
  length: number,
  spatial: number,
): LengthTables | null {
  const { frames, noise, scale, offPlate, alive } = statistics;
  const starts = startsOf(frames, length);
  if (starts < 2) return null;
  const cells = squares.grid.cols * squares.grid.rows;
  // Frames from the first tap of the first start to the last of the last, each against the one a round later.
  const rows = starts + TAPS.length - 1;
  const unlike = new Float32Array(rows * cells);
  for (let row = 0; row < rows; row++) {
    const frame = ROOM + FIRST_TAP + row;
    squares.between(frame, frame + length, unlike, row * cells);
    for (let x = 0; x < cells; x++) {
      const at = row * cells + x;
      unlike[at] = Math.max(0, unlike[at] - NOISE_TAKEN * noise[x]) * scale[x];
    }
  }
  const jump = new Float32Array(cells * starts);
  const change = new Float32Array(cells * starts);
  const still = new Float32Array(cells * starts);
  const dull = new Float32Array(cells * starts);
  const weights = TAPS.map((tap) => tap / TAPS.reduce<number>((sum, one) => sum + one, 0));
  for (let i = 0; i < starts; i++) {
    for (let x = 0; x < cells; x++) {
      let sum = 0;
      for (let k = 0; k < TAPS.length; k++) sum += weights[k] * unlike[(i + k) * cells + x];
      jump[x * starts + i] = sum;
      change[x * starts + i] = spatial * plainness(unlike[(i - FIRST_TAP) * cells + x]);
    }
  }
  for (let x = 0; x < cells; x++) {
    if (alive[x] === 0) continue;
    const usual = usualVariance(statistics, x, length);
    for (let i = 0; i < starts; i++) {
      const life = (statistics.variance(x, ROOM + i, ROOM + i + length) + LEAST_VARIANCE) / usual;
      dull[x * starts + i] = alive[x] * (1 - Math.min(1, life / LIVELY_SHARE));
    }
  }
  for (let i = 0; i < starts; i++) {
    const [from, to] = [(ROOM + i) * cells, (ROOM + i + length) * cells];
    for (let x = 0; x < cells; x++) still[x * starts + i] = spatial * (offPlate[to + x] - offPlate[from + x]);
  }
  return { length, firstStart: ROOM, starts, jump, dull, change, still, alive };
}

function usualVariance({ frames, variance }: CellStatistics, cell: number, length: number): number {
  const stretch = Math.min(frames, Math.max(length, Math.floor(USUAL_SHARE * frames)));
  const count = Math.floor((frames - stretch) / USUAL_EVERY) + 1;
  const found = new Float64Array(count);
  for (let k = 0; k < count; k++) found[k] = variance(cell, k * USUAL_EVERY, k * USUAL_EVERY + stretch);
  return found.sort()[count >> 1] + LEAST_VARIANCE;
}
