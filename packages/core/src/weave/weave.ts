/** The start of a cell that stands still. */
export const STILL = -1;

/**
 * A loop for every cell of the picture, or stillness: all that is needed to show any place of a woven reel. A
 * cell with start s and a round of P frames shows, at place t, frame s + ((t − s) mod P) of the take. Plain
 * data: it is kept and travels as JSON.
 */
export interface Weave {
  /** Tells it from every other: a hash of all that it was made from. */
  readonly id: string;
  /** Frames of the take in one common round, and the frame that its first place stands for. */
  readonly length: number;
  readonly first: number;
  /** Frames of the take that may be shown, end exclusive. */
  readonly from: number;
  readonly to: number;
  /** The picture's size in cells, the last of a row or column perhaps only in part: 60.5 × 34.2. */
  readonly across: number;
  readonly down: number;
  readonly cols: number;
  readonly rows: number;
  /** The frame of the take at which the round of each cell starts, or STILL. */
  readonly starts: readonly number[];
  /** How often each cell goes round in the common round: 1, 2 or 3. */
  readonly rounds: readonly number[];
  /** Frames over which each cell melts from its round's end into its start, half before and half after. */
  readonly melts: readonly number[];
  /** The frame that still cells show. */
  readonly plate: number;
}

/** A frame that some cells show at a place, and how much of each cell it is. */
export interface CellShare {
  /** A frame of the take, or STILL for the plate. */
  readonly frame: number;
  /** 0–1, cols × rows. */
  readonly shares: Float32Array;
}

/**
 * What the cells show at a place of the round.
 * @param source the frame of the take that the place stands for: `first` and up to `length` after it.
 * @returns the plate's share first, then frames in rising order.
 */
export function weaveShares(weave: Weave, source: number): CellShare[] {
  const { starts, cols, rows } = weave;
  const cells = cols * rows;
  const shares = new Map<number, Float32Array>();
  const add = (frame: number, cell: number, share: number) => {
    let table = shares.get(frame);
    if (!table) {
      table = new Float32Array(cells);
      shares.set(frame, table);
    }
    table[cell] += share;
  };
  for (let cell = 0; cell < cells; cell++) {
    if (starts[cell] === STILL) {
      add(STILL, cell, 1);
      continue;
    }
    const { frame, other, share } = cellFrames(weave, cell, source);
    add(frame, cell, 1 - share);
    if (share > 0) add(other, cell, share);
  }
  return [...shares].sort((a, b) => a[0] - b[0]).map(([frame, table]) => ({ frame, shares: table }));
}

/** The frame a cell shows, and the one a round away that is mixed in beside its change-over. */
export function cellFrames(
  { length, rounds, melts, starts, from, to }: Weave,
  cell: number,
  source: number,
): { frame: number; other: number; share: number } {
  const start = starts[cell];
  const round = length / rounds[cell];
  const into = (((source - start) % round) + round) % round;
  const frame = start + into;
  const half = melts[cell] / 2;
  if (into < half && frame + round < to) {
    return { frame, other: frame + round, share: 0.5 - (into + 0.5) / (2 * half) };
  }
  if (round - into <= half && frame - round >= from) {
    return { frame, other: frame - round, share: 0.5 - (round - into - 0.5) / (2 * half) };
  }
  return { frame, other: frame, share: 0 };
}

/** The frames of the take that cells show at a place; without the plate. Rising. */
export function weaveFrames(weave: Weave, source: number): number[] {
  const { starts } = weave;
  const frames = new Set<number>();
  for (let cell = 0; cell < starts.length; cell++) {
    if (starts[cell] === STILL) continue;
    const { frame, other } = cellFrames(weave, cell, source);
    frames.add(frame);
    frames.add(other);
  }
  return [...frames].sort((a, b) => a - b);
}

/** Below so many usual steps a jump needs no melt, … */
const UNNOTICED = 0.3;
/** … up to so many a short one costs no sharpness, since both sides are nearly alike, … */
const ALIKE = 1.5;
const SHORT_MELT = 6;
/** … and beyond, it is as long as the jump is large, up to this, frames. */
const LONGEST_MELT = 12;

/** Over how many frames a jump of so many squared usual steps melts. */
export function meltOf(jump: number): number {
  const steps = Math.sqrt(jump);
  if (steps < UNNOTICED) return 0;
  return steps <= ALIKE ? SHORT_MELT : Math.max(SHORT_MELT, Math.min(LONGEST_MELT, 2 * Math.ceil(steps)));
}
