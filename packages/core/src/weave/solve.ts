import type { CellProblem } from './cell-problem.js';
import type { CellGrid } from './cells.js';
import { expandLabels, moveEnergyOf } from './expansion.js';
import {
  allStill,
  energyOf,
  everyNthStart,
  fromEveryNth,
  type LabelProblem,
  type Labels,
} from './label-problem.js';
import { passMessages } from './messages.js';
import { improveModes } from './modes.js';

/** Messages run over every n-th start: what they miss, the modes find. */
const STRIDE = 4;
const ROUNDS = 18;
const MODES = 8;
const LAST_MODES = 4;
const SWEEPS = 2;
/** Starts that are expanded: every n-th, and those that blocks of cells would choose. */
const EXPANDED_EVERY = 8;
const MOST_VOTED = 32;
/** Side of such a block, px of the reel; it must have so many nodes. */
const BLOCK = 32;
const LEAST_NODES = 4;
/** Two votes of a block lie further apart than this, frames. */
const VOTES_APART = 4;

export interface Solution {
  readonly labels: Labels;
  readonly energy: number;
}

/**
 * A good labelling, always the same one: messages and modes, expansion from the better of theirs and
 * stillness, modes. Each repairs what the one before is bad at.
 */
export function solveLabels({ problem, cellOf }: CellProblem, grid: CellGrid): Solution {
  const still = allStill(problem);
  if (problem.nodes === 0) return { labels: still, energy: 0 };
  const coarse = everyNthStart(problem, STRIDE);
  const passed = fromEveryNth(passMessages(coarse, ROUNDS).labels, problem, STRIDE);
  const moded = improveModes(problem, passed, MODES);
  const from = energyOf(problem, moded) < energyOf(problem, still) ? moded : still;
  const candidates = candidateLabels(problem, cellOf, grid);
  const expanded = expandLabels(moveEnergyOf(problem), from, candidates, SWEEPS);
  const labels = improveModes(problem, expanded, LAST_MODES);
  return { labels, energy: energyOf(problem, labels) };
}

/** Labels worth an expansion: stillness, every n-th start, and the two best of every block of cells. */
function candidateLabels(problem: LabelProblem, cellOf: Int32Array, { cols, cell }: CellGrid): number[] {
  const { starts, unary } = problem;
  const chosen = new Set([starts]);
  for (let start = 0; start < starts; start += EXPANDED_EVERY) chosen.add(start);
  const side = BLOCK / cell;
  const blocks = new Map<number, number[]>();
  for (const [node, at] of cellOf.entries()) {
    const block = Math.floor(Math.floor(at / cols) / side) * cols + Math.floor((at % cols) / side);
    const members = blocks.get(block);
    if (members) members.push(node);
    else blocks.set(block, [node]);
  }
  const votes = new Map<number, number>();
  for (const members of blocks.values()) {
    if (members.length < LEAST_NODES) continue;
    const sums = new Float64Array(starts);
    for (const node of members) {
      for (let i = 0; i < starts; i++) sums[i] += unary[node * (starts + 1) + i];
    }
    for (let vote = 0; vote < 2; vote++) {
      let best = 0;
      for (let i = 1; i < starts; i++) if (sums[i] < sums[best]) best = i;
      votes.set(best, (votes.get(best) ?? 0) + 1);
      sums.fill(Number.POSITIVE_INFINITY, Math.max(0, best - VOTES_APART), best + VOTES_APART + 1);
    }
  }
  const most = [...votes].sort((a, b) => b[1] - a[1] || a[0] - b[0]).slice(0, MOST_VOTED);
  for (const [start] of most) chosen.add(start);
  return [...chosen].sort((a, b) => a - b);
}
