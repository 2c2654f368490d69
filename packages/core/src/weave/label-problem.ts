/**
 * Which start each node takes, or stillness: a sum of what every node's label costs and of what neighbours
 * with different labels cost at their frontier. Labels 0 … starts − 1 are starts, label `starts` is
 * stillness. All tables row by row, one row a node.
 */
export interface LabelProblem {
  readonly nodes: number;
  readonly starts: number;
  /** The neighbours of each node, or −1. */
  readonly left: Int32Array;
  readonly right: Int32Array;
  readonly up: Int32Array;
  readonly down: Int32Array;
  /** What each label costs: nodes × (starts + 1). */
  readonly unary: Float32Array;
  /** What the frontier between start i and start i + 1 costs on this side of it: nodes × starts, ≥ 0. */
  readonly change: Float32Array;
  /** Running sums of these: entry i is the sum of the changes before i. */
  readonly changeSum: Float32Array;
  /** What the frontier between a start and stillness costs on this side of it: nodes × starts, ≥ 0. */
  readonly still: Float32Array;
  /** Paid by every frontier, whatever it shows. */
  readonly apart: number;
}

/** One label a node. */
export type Labels = Int32Array;

export function runningSums(change: Float32Array, nodes: number, starts: number): Float32Array {
  const sums = new Float32Array(nodes * starts);
  for (let x = 0; x < nodes; x++) {
    for (let i = 1; i < starts; i++) {
      sums[x * starts + i] = sums[x * starts + i - 1] + change[x * starts + i - 1];
    }
  }
  return sums;
}

/** What a frontier between two neighbours costs. */
export function frontierCost(problem: LabelProblem, x: number, z: number, a: number, b: number): number {
  if (a === b) return 0;
  const { starts, still, changeSum, apart } = problem;
  if (a === starts) return still[x * starts + b] + still[z * starts + b] + apart;
  if (b === starts) return still[x * starts + a] + still[z * starts + a] + apart;
  return (
    apart +
    Math.abs(changeSum[x * starts + a] - changeSum[x * starts + b]) +
    Math.abs(changeSum[z * starts + a] - changeSum[z * starts + b])
  );
}

export function energyOf(problem: LabelProblem, labels: Labels): number {
  const { nodes, starts, right, down, unary } = problem;
  let energy = 0;
  for (let x = 0; x < nodes; x++) {
    energy += unary[x * (starts + 1) + labels[x]];
    if (right[x] >= 0) energy += frontierCost(problem, x, right[x], labels[x], labels[right[x]]);
    if (down[x] >= 0) energy += frontierCost(problem, x, down[x], labels[x], labels[down[x]]);
  }
  return energy;
}

/** Adds to the cost of every label of x what its frontier to z costs, where z has label b. */
export function addFrontier(
  problem: LabelProblem,
  x: number,
  z: number,
  b: number,
  cost: Float32Array | Float64Array,
): void {
  const { starts, change, still, apart } = problem;
  const [atX, atZ] = [x * starts, z * starts];
  if (b === starts) {
    for (let i = 0; i < starts; i++) cost[i] += still[atX + i] + still[atZ + i] + apart;
    return;
  }
  cost[starts] += still[atX + b] + still[atZ + b] + apart;
  let sum = apart;
  for (let i = b; i + 1 < starts; i++) {
    sum += change[atX + i] + change[atZ + i];
    cost[i + 1] += sum;
  }
  sum = apart;
  for (let i = b - 1; i >= 0; i--) {
    sum += change[atX + i] + change[atZ + i];
    cost[i] += sum;
  }
}

/** The same problem with every n-th start only. */
export function everyNthStart(problem: LabelProblem, n: number): LabelProblem {
  const { nodes, starts } = problem;
  if (n === 1) return problem;
  const kept = Math.floor((starts - 1) / n) + 1;
  const unary = new Float32Array(nodes * (kept + 1));
  const change = new Float32Array(nodes * kept);
  const still = new Float32Array(nodes * kept);
  for (let x = 0; x < nodes; x++) {
    for (let i = 0; i < kept; i++) {
      unary[x * (kept + 1) + i] = problem.unary[x * (starts + 1) + i * n];
      still[x * kept + i] = problem.still[x * starts + i * n];
      let sum = 0;
      for (let k = i * n; k < Math.min(starts, (i + 1) * n); k++) sum += problem.change[x * starts + k];
      change[x * kept + i] = sum;
    }
    unary[x * (kept + 1) + kept] = problem.unary[x * (starts + 1) + starts];
  }
  const changeSum = runningSums(change, nodes, kept);
  return { ...problem, starts: kept, unary, change, changeSum, still };
}

/** Labels of that problem as labels of the whole one. */
export function fromEveryNth(labels: Labels, { starts }: LabelProblem, n: number): Labels {
  const kept = Math.floor((starts - 1) / n) + 1;
  return labels.map((label) => (label === kept ? starts : label * n));
}

export function allStill({ nodes, starts }: LabelProblem): Labels {
  return new Int32Array(nodes).fill(starts);
}
