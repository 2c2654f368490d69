import { growKernel, type KernelMemory, startKernel } from '../pixels/index.js';
import type { LabelProblem } from './label-problem.js';
import { WEAVE_KERNEL } from './weave-kernel.js';

/** Messages between the nodes of a problem, all nothing at first. */
export interface MessageSweeps {
  /** From the first node to the last, to the right and down. */
  forward(): void;
  /** Back, to the left and up. @returns what no labels can cost less than. */
  backward(): number;
  /** The messages into each node from its right and from below; `row` numbers a node. */
  readonly fromRight: Float32Array;
  readonly fromDown: Float32Array;
  readonly row: number;
}

interface MessageKernel extends KernelMemory {
  placeMessages(base: number, nodes: number, starts: number, apart: number): number;
  tableAt(which: number): number;
  sweepForward(): void;
  sweepBackward(): number;
}

/** @param plain whether no kernel is used; the results are the same. */
export function openSweeps(problem: LabelProblem, plain = false): MessageSweeps {
  const kernel = plain ? null : startKernel<MessageKernel>(WEAVE_KERNEL);
  return kernel ? kernelSweeps(problem, kernel) : plainSweeps(problem);
}

/** The numbers of whole vectors that a row takes. */
const padded = (count: number) => (count + 3) & ~3;

function kernelSweeps(problem: LabelProblem, kernel: MessageKernel): MessageSweeps {
  const { nodes, starts, left, right, up, down, unary, change, still, apart } = problem;
  const end = kernel.placeMessages(kernel.memory.buffer.byteLength, nodes, starts, apart);
  growKernel(kernel, end);
  const { buffer } = kernel.memory;
  const neighbours = new Int32Array(buffer, kernel.tableAt(0), 4 * nodes);
  for (const [side, table] of [left, right, up, down].entries()) neighbours.set(table, side * nodes);
  const row = padded(starts + 1);
  const fill = (which: number, table: Float32Array, from: number) => {
    const to = padded(from);
    const rows = new Float32Array(buffer, kernel.tableAt(which), nodes * to);
    for (let x = 0; x < nodes; x++) rows.set(table.subarray(x * from, (x + 1) * from), x * to);
  };
  fill(1, unary, starts + 1);
  fill(2, change, starts);
  fill(3, still, starts);
  return {
    forward: () => kernel.sweepForward(),
    backward: () => kernel.sweepBackward(),
    fromRight: new Float32Array(buffer, kernel.tableAt(4), nodes * row),
    fromDown: new Float32Array(buffer, kernel.tableAt(5), nodes * row),
    row,
  };
}

/** Reference implementation, in single precision as the kernel. */
function plainSweeps(problem: LabelProblem): MessageSweeps {
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
  const { fround } = Math;
  const gather = (x: number) => {
    const at = x * labels;
    for (let l = 0; l < labels; l++) {
      const sides = fround(fround(unary[at + l] + fromLeft[at + l]) + fromRight[at + l]);
      sum[l] = fround(sides + fromUp[at + l]) + fromDown[at + l];
    }
  };
  /** A node divides what it holds among the chains through it. */
  const shareOf = (x: number) => {
    const after = Number(right[x] >= 0) + Number(down[x] >= 0);
    const before = Number(left[x] >= 0) + Number(up[x] >= 0);
    return 1 / Math.max(1, after, before);
  };
  const send = (x: number, to: number, back: Float32Array, into: Float32Array, part: number): number => {
    const at = x * labels;
    for (let l = 0; l < labels; l++) message[l] = fround(sum[l] * part) - back[at + l];
    const least = runMessage(problem, x, to, message, rising);
    into.set(message, to * labels);
    return least;
  };
  return {
    forward() {
      for (let x = 0; x < nodes; x++) {
        gather(x);
        const part = shareOf(x);
        if (right[x] >= 0) send(x, right[x], fromRight, fromLeft, part);
        if (down[x] >= 0) send(x, down[x], fromDown, fromUp, part);
      }
    },
    backward() {
      let low = 0;
      for (let x = nodes - 1; x >= 0; x--) {
        gather(x);
        const part = shareOf(x);
        let least = Number.POSITIVE_INFINITY;
        for (let l = 0; l < labels; l++) if (sum[l] < least) least = sum[l];
        low += least;
        for (let l = 0; l < labels; l++) sum[l] -= least;
        if (left[x] >= 0) low += send(x, left[x], fromLeft, fromRight, part);
        if (up[x] >= 0) low += send(x, up[x], fromUp, fromDown, part);
      }
      return low;
    },
    fromRight,
    fromDown,
    row: labels,
  };
}

/**
 * Turns what x holds into the message that z gets, in place and in a time linear in the labels: for every label
 * of z the least over those of x with their frontier, less the least of all.
 * @param rising room for as many numbers.
 * @returns what was taken out.
 */
export function runMessage(
  { starts, change, still, apart: exact }: LabelProblem,
  x: number,
  z: number,
  message: Float32Array,
  rising: Float32Array,
): number {
  const { fround } = Math;
  const apart = fround(exact);
  const [atX, atZ] = [x * starts, z * starts];
  const held = message[starts];
  let toStill = held;
  let least = held;
  // A change to a later start costs the sum of what lies between, so the best earlier one is carried along.
  let run = Number.POSITIVE_INFINITY;
  for (let i = 0; i < starts; i++) {
    const value = message[i];
    const stilled = fround(fround(value + fround(still[atX + i] + still[atZ + i])) + apart);
    if (stilled < toStill) toStill = stilled;
    if (value < least) least = value;
    rising[i] = run;
    const other = fround(value + apart);
    run = fround(Math.min(other, run) + fround(change[atX + i] + change[atZ + i]));
  }
  run = Number.POSITIVE_INFINITY;
  for (let i = starts - 1; i >= 0; i--) {
    const own = message[i];
    if (i < starts - 1) run = fround(run + fround(change[atX + i] + change[atZ + i]));
    let value = own;
    if (rising[i] < value) value = rising[i];
    if (run < value) value = run;
    const fromStill = fround(fround(held + fround(still[atX + i] + still[atZ + i])) + apart);
    if (fromStill < value) value = fromStill;
    message[i] = value - least;
    const other = fround(own + apart);
    if (other < run) run = other;
  }
  message[starts] = toStill - least;
  return least;
}
