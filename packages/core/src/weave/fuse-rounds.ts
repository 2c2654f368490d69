import type { CellProblem } from './cell-problem.js';
import { cellSquare } from './cells.js';
import { expandLabels, type MoveEnergy } from './expansion.js';
import { frontierCost, type Labels } from './label-problem.js';
import type { LengthTables } from './length-tables.js';
import { NOISE_TAKEN, plainness } from './statistics.js';
import type { WovenTake } from './woven-take.js';

/** One way to weave a take: every node with a start, or still, in a round of one length. */
export interface RoundSolution {
  /** How often it goes round in the common round. */
  readonly rounds: number;
  readonly tables: LengthTables;
  readonly found: CellProblem;
  readonly labels: Labels;
}

/** A frontier between rounds of different lengths is looked at in so many places of the common round. */
const SAMPLES = 12;
/** Penalty of a node for each further cycle within the common one. */
const REPEATED = 0.3;
const SWEEPS = 3;

/**
 * Chooses for every node one of several solutions, so that a node may have a shorter cycle than the common
 * one. Frontiers between different lengths have no sums to read off; they are sampled.
 * @param solutions over the same nodes, the common round first.
 * @param spatial what a frame of mismatch along a side counts.
 * @returns which solution each node takes.
 */
export function fuseRounds(take: WovenTake, solutions: readonly RoundSolution[], spatial: number): Labels {
  const [{ found, tables }] = solutions;
  const { nodes, right, down, apart } = found.problem;
  const { cellOf } = found;
  const count = solutions.length;
  const length = tables.length;
  const stillOf = (k: number) => solutions[k].found.problem.starts;
  const unary = (x: number, k: number) => {
    const { labels, found: own, rounds } = solutions[k];
    const { problem } = own;
    const cost = problem.unary[x * (problem.starts + 1) + labels[x]];
    if (labels[x] === problem.starts) return cost;
    const jump = solutions[k].tables.jump[cellOf[x] * problem.starts + labels[x]];
    // It jumps as often as it goes round.
    return cost + (rounds - 1) * (jump + REPEATED);
  };
  const known = new Map<number, number>();
  const sampled = (x: number, z: number, k: number, m: number): number => {
    const key = ((x * 2 + (z === right[x] ? 0 : 1)) * count + k) * count + m;
    const there = known.get(key);
    if (there !== undefined) return there;
    let sum = 0;
    for (let i = 0; i < SAMPLES; i++) {
      const place = Math.floor(((i + 0.5) * length) / SAMPLES);
      const [a, b] = [shownAt(solutions[k], x, place), shownAt(solutions[m], z, place)];
      sum += mismatch(take, cellOf[x], a, b) + mismatch(take, cellOf[z], a, b);
    }
    const cost = (spatial * sum * length) / SAMPLES;
    known.set(key, cost);
    return cost;
  };
  const frontier = (x: number, z: number, k: number, m: number): number => {
    const [a, b] = [solutions[k].labels[x], solutions[m].labels[z]];
    const [isStillA, isStillB] = [a === stillOf(k), b === stillOf(m)];
    if (isStillA && isStillB) return 0;
    if (k === m) return solutions[k].rounds * frontierCost(solutions[k].found.problem, x, z, a, b);
    const still = (of: number, label: number) => {
      const { still: table, starts } = solutions[of].found.problem;
      return solutions[of].rounds * (table[x * starts + label] + table[z * starts + label]) + apart;
    };
    if (isStillA) return still(m, b);
    if (isStillB) return still(k, a);
    return sampled(x, z, k, m) + apart;
  };
  const energy: MoveEnergy = {
    ...{ nodes, right, down, unary, frontier },
    total(labels) {
      let sum = 0;
      for (let x = 0; x < nodes; x++) {
        sum += unary(x, labels[x]);
        if (right[x] >= 0) sum += frontier(x, right[x], labels[x], labels[right[x]]);
        if (down[x] >= 0) sum += frontier(x, down[x], labels[x], labels[down[x]]);
      }
      return sum;
    },
  };
  const all = Array.from({ length: count }, (_, k) => k);
  return expandLabels(energy, new Int32Array(nodes), all, SWEEPS);
}

/** The frame that a node which is not still shows at a place of the common round. */
function shownAt({ tables, labels }: RoundSolution, x: number, place: number): number {
  const start = tables.firstStart + labels[x];
  const into = (((place - start) % tables.length) + tables.length) % tables.length;
  return start + into;
}

function mismatch({ planes, grid, statistics }: WovenTake, cell: number, a: number, b: number): number {
  if (a === b) return 0;
  const squared = cellSquare(planes, grid, cell, a, b) - NOISE_TAKEN * statistics.noise[cell];
  return plainness(Math.max(0, squared) * statistics.scale[cell]);
}
