import type { CellGrid } from './cells.js';
import { type LabelProblem, runningSums } from './label-problem.js';
import type { LengthTables } from './length-tables.js';

/** What a person or a mask decides about a cell. */
export const LEFT_OPEN = 0;
export const HELD = 1;
export const FREED = 2;

/** What may move and how much it should. */
export interface WeaveWishes {
  /** Squared usual steps by which a cell that is fully alive may jump; one that would jump farther stands still. */
  readonly liveliness: number;
  /** LEFT_OPEN, HELD or FREED, one a cell; all open where null. */
  readonly decided: Uint8Array | null;
}

/** A loop costs this much more than stillness where nothing moves. */
const STILL_SLACK = 0.2;
/** For every frontier between two starts, whatever it shows. */
const APART = 0.05;
/** Standing still costs a freed cell this much. */
const NEVER_STILL = 1e4;
/** How far around what is alive cells may move, px of the reel. */
const WIDENED = 16;
/** Of nine cells, so many must be alive: fewer are a crumb. */
const LEAST_ALIVE = 3;

/** The problem of a length, and which cell each of its nodes is. */
export interface CellProblem {
  readonly problem: LabelProblem;
  /** The cell of each node, ascending; every other cell stands still. */
  readonly cellOf: Int32Array;
  /** Nodes that are alive by themselves. */
  readonly living: number;
}

/** Cells that may move: those around what is alive, without crumbs, and what was decided. */
export function movableCells(
  alive: Float32Array,
  { cols, rows, cell }: CellGrid,
  decided: Uint8Array | null,
): Uint8Array {
  const out = new Uint8Array(alive.length);
  const reach = Math.ceil(WIDENED / cell);
  // What is held gives no reason to move to what lies around it.
  const isAlive = (at: number) => alive[at] > 0 && decided?.[at] !== HELD;
  const visit = (x: number, y: number, far: number, each: (at: number) => void) => {
    for (let v = Math.max(0, y - far); v <= Math.min(rows - 1, y + far); v++) {
      for (let u = Math.max(0, x - far); u <= Math.min(cols - 1, x + far); u++) each(v * cols + u);
    }
  };
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < cols; x++) {
      if (!isAlive(y * cols + x)) continue;
      let around = 0;
      visit(x, y, 1, (at) => {
        if (isAlive(at)) around++;
      });
      if (around >= LEAST_ALIVE) {
        visit(x, y, reach, (at) => {
          out[at] = 1;
        });
      }
    }
  }
  if (decided) {
    for (let at = 0; at < out.length; at++) {
      if (decided[at] === HELD) out[at] = 0;
      if (decided[at] === FREED) out[at] = 1;
    }
  }
  return out;
}

export function cellProblem(tables: LengthTables, grid: CellGrid, wishes: WeaveWishes): CellProblem {
  const { starts, alive } = tables;
  const { liveliness, decided } = wishes;
  const movable = movableCells(alive, grid, decided);
  const cellOf = Int32Array.from([...movable.keys()].filter((at) => movable[at] === 1));
  const nodes = cellOf.length;
  const nodeOf = new Int32Array(movable.length).fill(-1);
  cellOf.forEach((at, node) => {
    nodeOf[at] = node;
  });
  const { cols, rows } = grid;
  const neighbour = (dx: number, dy: number) =>
    cellOf.map((at) => {
      const [x, y] = [(at % cols) + dx, Math.floor(at / cols) + dy];
      return x < 0 || y < 0 || x >= cols || y >= rows ? -1 : nodeOf[y * cols + x];
    });
  const [left, right, up, down] = [neighbour(-1, 0), neighbour(1, 0), neighbour(0, -1), neighbour(0, 1)];
  const unary = new Float32Array(nodes * (starts + 1));
  const change = new Float32Array(nodes * starts);
  const still = new Float32Array(nodes * starts);
  let living = 0;
  for (let node = 0; node < nodes; node++) {
    const cell = cellOf[node];
    const from = cell * starts;
    const at = node * (starts + 1);
    change.set(tables.change.subarray(from, from + starts), node * starts);
    still.set(tables.still.subarray(from, from + starts), node * starts);
    for (let i = 0; i < starts; i++) {
      unary[at + i] = tables.jump[from + i] + STILL_SLACK + liveliness * tables.dull[from + i];
    }
    unary[at + starts] = liveliness * alive[cell] + (decided?.[cell] === FREED ? NEVER_STILL : 0);
    if (alive[cell] > 0) living++;
    // Cells beside it that stand still for good are no nodes; the frontier to them is. Where something is held by
    // hand, a feather lies over it, and all starts are alike there.
    const [x, y] = [cell % cols, Math.floor(cell / cols)];
    for (const [dx, dy] of SIDES) {
      const [u, v] = [x + dx, y + dy];
      if (u < 0 || v < 0 || u >= cols || v >= rows || movable[v * cols + u]) continue;
      if (decided?.[v * cols + u] === HELD) continue;
      const beside = (v * cols + u) * starts;
      for (let i = 0; i < starts; i++)
        unary[at + i] += tables.still[from + i] + tables.still[beside + i] + APART;
    }
  }
  const changeSum = runningSums(change, nodes, starts);
  return {
    problem: { nodes, starts, left, right, up, down, unary, change, changeSum, still, apart: APART },
    cellOf,
    living,
  };
}

const SIDES = [
  [-1, 0],
  [1, 0],
  [0, -1],
  [0, 1],
] as const;
