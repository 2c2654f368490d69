import { energyOf, frontierCost, type LabelProblem, type Labels } from './label-problem.js';
import { MaxFlow } from './max-flow.js';

/** A sweep that gains less than this share ends the search. */
const LEAST_GAIN = 1e-3;

/** Labels among which moves are made, and what they cost. */
export interface MoveEnergy {
  readonly nodes: number;
  readonly right: Int32Array;
  readonly down: Int32Array;
  unary(node: number, label: number): number;
  frontier(x: number, z: number, a: number, b: number): number;
  total(labels: Labels): number;
}

/**
 * Alpha expansion: for one label after the other, the cheapest set of nodes that change over to it. Frontiers
 * that are not a metric are cut down to one, and a move that does not lower the true energy is dropped, so the
 * energy never rises.
 * Source: Boykov, Veksler and Zabih, Fast Approximate Energy Minimization via Graph Cuts, 2001, section 5.
 */
export function expandLabels(
  energy: MoveEnergy,
  from: Labels,
  candidates: readonly number[],
  sweeps: number,
): Labels {
  const { nodes, right, down } = energy;
  if (nodes === 0) return from;
  const flow = new MaxFlow(nodes, 2 * nodes);
  let labels = from;
  let now = energy.total(labels);
  for (let sweep = 0; sweep < sweeps; sweep++) {
    const before = now;
    for (const alpha of candidates) {
      flow.clear();
      const addFrontier = (x: number, z: number) => {
        if (z < 0) return;
        const both = energy.frontier(x, z, labels[x], labels[z]);
        const zMoves = energy.frontier(x, z, labels[x], alpha);
        const xMoves = energy.frontier(x, z, alpha, labels[z]);
        // Both keep, both move (0), one of them moves: written as what each pays alone and one edge.
        const kept = Math.min(both, zMoves + xMoves);
        flow.addTerminal(x, xMoves - kept);
        flow.addTerminal(z, -xMoves);
        flow.addEdge(x, z, zMoves + xMoves - kept);
      };
      for (let x = 0; x < nodes; x++) {
        flow.addTerminal(x, energy.unary(x, alpha) - energy.unary(x, labels[x]));
        addFrontier(x, right[x]);
        addFrontier(x, down[x]);
      }
      flow.run();
      const moved = labels.map((label, x) => (flow.isOnSourceSide(x) ? label : alpha));
      const then = energy.total(moved);
      if (then < now - 1e-6) {
        now = then;
        labels = moved;
      }
    }
    if (before - now < LEAST_GAIN * before) break;
  }
  return labels;
}

export function moveEnergyOf(problem: LabelProblem): MoveEnergy {
  const { nodes, starts, right, down, unary } = problem;
  return {
    nodes,
    right,
    down,
    unary: (x, label) => unary[x * (starts + 1) + label],
    frontier: (x, z, a, b) => frontierCost(problem, x, z, a, b),
    total: (labels) => energyOf(problem, labels),
  };
}
