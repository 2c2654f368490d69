import { addFrontier, type LabelProblem, type Labels } from './label-problem.js';

/** A label must be better by this much to be taken. */
const SLACK = 1e-6;

/**
 * Iterated conditional modes: node by node the label that is best beside its neighbours as they are, until
 * nothing changes. Never raises the energy.
 */
export function improveModes(problem: LabelProblem, from: Labels, rounds: number): Labels {
  const { nodes, starts, left, right, up, down, unary } = problem;
  const labels = from.slice();
  const count = starts + 1;
  const cost = new Float64Array(count);
  for (let round = 0; round < rounds; round++) {
    let changed = 0;
    for (let x = 0; x < nodes; x++) {
      for (let l = 0; l < count; l++) cost[l] = unary[x * count + l];
      if (left[x] >= 0) addFrontier(problem, x, left[x], labels[left[x]], cost);
      if (right[x] >= 0) addFrontier(problem, x, right[x], labels[right[x]], cost);
      if (up[x] >= 0) addFrontier(problem, x, up[x], labels[up[x]], cost);
      if (down[x] >= 0) addFrontier(problem, x, down[x], labels[down[x]], cost);
      let best = labels[x];
      for (let l = 0; l < count; l++) if (cost[l] < cost[best] - SLACK) best = l;
      if (best === labels[x]) continue;
      labels[x] = best;
      changed++;
    }
    if (changed === 0) break;
  }
  return labels;
}
