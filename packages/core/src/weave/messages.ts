import { addFrontier, allStill, energyOf, type LabelProblem, type Labels } from './label-problem.js';
import { type MessageSweeps, openSweeps } from './message-sweeps.js';

/** What message passing came to. */
export interface MessageResult {
  /** The best labels that were met. */
  readonly labels: Labels;
  readonly energy: number;
  /** No labels cost less than this. */
  readonly bound: number;
}

/** Labels are read off the messages after so many rounds. */
const LOOKED_AT_EVERY = 3;

/**
 * Sequential tree-reweighted message passing on the grid of nodes.
 * Source: Kolmogorov, Convergent Tree-Reweighted Message Passing for Energy Minimization, 2006, section 3.
 * @param rounds there and back.
 * @param gap it ends when the energy lies no further above the bound than this share of it.
 */
export function passMessages(problem: LabelProblem, rounds: number, gap = 0.01): MessageResult {
  const sweeps = openSweeps(problem);
  const cost = new Float32Array(problem.starts + 1);
  let best = allStill(problem);
  let energy = energyOf(problem, best);
  let bound = Number.NEGATIVE_INFINITY;
  const met = allStill(problem);
  for (let round = 0; round < rounds; round++) {
    sweeps.forward();
    bound = Math.max(bound, sweeps.backward());
    if (round % LOOKED_AT_EVERY !== LOOKED_AT_EVERY - 1 && round !== rounds - 1) continue;
    readLabels(problem, sweeps, cost, met);
    const now = energyOf(problem, met);
    if (now < energy) {
      energy = now;
      best = met.slice();
    }
    if (energy - bound < gap * energy) break;
  }
  return { labels: best, energy, bound };
}

/** Node by node, the label that is best with those before it as they are and the messages from those after it. */
function readLabels(
  problem: LabelProblem,
  { fromRight, fromDown, row }: MessageSweeps,
  cost: Float32Array,
  labels: Labels,
): void {
  const { nodes, starts, left, up, unary } = problem;
  const count = starts + 1;
  for (let x = 0; x < nodes; x++) {
    const at = x * count;
    for (let l = 0; l < count; l++) cost[l] = unary[at + l] + fromRight[x * row + l] + fromDown[x * row + l];
    if (left[x] >= 0) addFrontier(problem, x, left[x], labels[left[x]], cost);
    if (up[x] >= 0) addFrontier(problem, x, up[x], labels[up[x]], cost);
    labels[x] = leastOf(cost, count);
  }
}

export function leastOf(cost: Float32Array | Float64Array, count: number): number {
  let least = 0;
  for (let l = 1; l < count; l++) if (cost[l] < cost[least]) least = l;
  return least;
}
