import { addFrontier, allStill, energyOf, type LabelProblem, type Labels } from './label-problem.js';

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
  const { nodes, starts, left, right, up, down, unary } = problem;
  const labels = starts + 1;
  // Into each node, from the neighbour on that side.
  const fromLeft = new Float32Array(nodes * labels);
  const fromRight = new Float32Array(nodes * labels);
  const fromUp = new Float32Array(nodes * labels);
  const fromDown = new Float32Array(nodes * labels);
  const sum = new Float32Array(labels);
  const message = new Float32Array(labels);
  const rising = new Float32Array(labels);
  const gather = (x: number) => {
    const at = x * labels;
    for (let l = 0; l < labels; l++) {
      sum[l] = unary[at + l] + fromLeft[at + l] + fromRight[at + l] + fromUp[at + l] + fromDown[at + l];
    }
  };
  const share = (x: number) => {
    const after = Number(right[x] >= 0) + Number(down[x] >= 0);
    const before = Number(left[x] >= 0) + Number(up[x] >= 0);
    return 1 / Math.max(1, after, before);
  };
  const send = (x: number, to: number, back: Float32Array, into: Float32Array, part: number): number => {
    const at = x * labels;
    for (let l = 0; l < labels; l++) message[l] = sum[l] * part - back[at + l];
    const least = runMessage(problem, x, to, message, rising);
    into.set(message, to * labels);
    return least;
  };
  let best = allStill(problem);
  let energy = energyOf(problem, best);
  let bound = Number.NEGATIVE_INFINITY;
  const met = allStill(problem);
  for (let round = 0; round < rounds; round++) {
    for (let x = 0; x < nodes; x++) {
      gather(x);
      const part = share(x);
      if (right[x] >= 0) send(x, right[x], fromRight, fromLeft, part);
      if (down[x] >= 0) send(x, down[x], fromDown, fromUp, part);
    }
    let low = 0;
    for (let x = nodes - 1; x >= 0; x--) {
      gather(x);
      const part = share(x);
      let least = Number.POSITIVE_INFINITY;
      for (let l = 0; l < labels; l++) if (sum[l] < least) least = sum[l];
      low += least;
      for (let l = 0; l < labels; l++) sum[l] -= least;
      if (left[x] >= 0) low += send(x, left[x], fromLeft, fromRight, part);
      if (up[x] >= 0) low += send(x, up[x], fromUp, fromDown, part);
    }
    bound = Math.max(bound, low);
    if (round % LOOKED_AT_EVERY !== LOOKED_AT_EVERY - 1 && round !== rounds - 1) continue;
    readLabels(problem, fromRight, fromDown, sum, met);
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
  fromRight: Float32Array,
  fromDown: Float32Array,
  cost: Float32Array,
  labels: Labels,
): void {
  const { nodes, starts, left, up, unary } = problem;
  const count = starts + 1;
  for (let x = 0; x < nodes; x++) {
    const at = x * count;
    for (let l = 0; l < count; l++) cost[l] = unary[at + l] + fromRight[at + l] + fromDown[at + l];
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

/**
 * Turns what x holds into the message that z gets, in place and in a time linear in the labels: for every label
 * of z the least over those of x with their frontier, less the least of all.
 * @param rising room for as many numbers.
 * @returns what was taken out.
 */
export function runMessage(
  { starts, change, still, apart }: LabelProblem,
  x: number,
  z: number,
  message: Float32Array,
  rising: Float32Array,
): number {
  const [atX, atZ] = [x * starts, z * starts];
  const held = message[starts];
  let toStill = held;
  let least = held;
  for (let i = 0; i < starts; i++) {
    const value = message[i];
    const stilled = value + still[atX + i] + still[atZ + i] + apart;
    if (stilled < toStill) toStill = stilled;
    if (value < least) least = value;
  }
  // A change to a later start costs the sum of what lies between, so the best earlier one is carried along.
  let run = Number.POSITIVE_INFINITY;
  for (let i = 0; i < starts; i++) {
    rising[i] = run;
    run = Math.min(run, message[i] + apart) + change[atX + i] + change[atZ + i];
  }
  run = Number.POSITIVE_INFINITY;
  for (let i = starts - 1; i >= 0; i--) {
    const own = message[i];
    if (i < starts - 1) run += change[atX + i] + change[atZ + i];
    let value = own;
    if (rising[i] < value) value = rising[i];
    if (run < value) value = run;
    const fromStill = held + still[atX + i] + still[atZ + i] + apart;
    if (fromStill < value) value = fromStill;
    message[i] = value - least;
    if (own + apart < run) run = own + apart;
  }
  message[starts] = toStill - least;
  return least;
}
