import { describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { expandLabels, moveEnergyOf } from './expansion.js';
import {
  addFrontier,
  allStill,
  energyOf,
  everyNthStart,
  fromEveryNth,
  frontierCost,
  type LabelProblem,
  runningSums,
} from './label-problem.js';
import { MaxFlow } from './max-flow.js';
import { openSweeps, runMessage } from './message-sweeps.js';
import { passMessages } from './messages.js';
import { improveModes } from './modes.js';
import { solveLabels } from './solve.js';

/** A grid of nodes with costs by chance; some places of the grid are no nodes. */
function problemOf(seed: number, cols: number, rows: number, starts: number, holes = 0): LabelProblem {
  const random = seeded(seed);
  const cells = cols * rows;
  const isNode = Array.from({ length: cells }, () => random() >= holes);
  isNode[0] = true;
  const nodeOf = isNode.map((is, cell) => (is ? isNode.slice(0, cell).filter(Boolean).length : -1));
  const nodes = isNode.filter(Boolean).length;
  const beside = (dx: number, dy: number) =>
    Int32Array.from(
      [...isNode.keys()]
        .filter((cell) => isNode[cell])
        .map((cell) => {
          const [x, y] = [(cell % cols) + dx, Math.floor(cell / cols) + dy];
          return x < 0 || y < 0 || x >= cols || y >= rows ? -1 : nodeOf[y * cols + x];
        }),
    );
  const table = (width: number, most: number) =>
    Float32Array.from({ length: nodes * width }, () => random() * most);
  const change = table(starts, 2);
  return {
    ...{ nodes, starts, apart: 0.05 },
    ...{ left: beside(-1, 0), right: beside(1, 0), up: beside(0, -1), down: beside(0, 1) },
    ...{ unary: table(starts + 1, 6), change, still: table(starts, 3) },
    changeSum: runningSums(change, nodes, starts),
  };
}

/** The least energy of all labellings there are. */
function exhaustive(problem: LabelProblem): number {
  const { nodes, starts } = problem;
  const labels = new Int32Array(nodes);
  let least = Number.POSITIVE_INFINITY;
  for (let n = 0; n < (starts + 1) ** nodes; n++) {
    for (let x = 0, rest = n; x < nodes; x++, rest = Math.floor(rest / (starts + 1)))
      labels[x] = rest % (starts + 1);
    least = Math.min(least, energyOf(problem, labels));
  }
  return least;
}

const SEEDS = [1, 2, 3, 4, 5, 6, 7, 8];
const asCells = (problem: LabelProblem, cols: number) => ({
  problem,
  cellOf: Int32Array.from({ length: problem.nodes }, (_, x) => x),
  living: problem.nodes,
  grid: { cell: 8 as const, cols, rows: problem.nodes / cols, width: cols * 8, height: 8 },
});

describe('a frontier', () => {
  it.each(SEEDS)('costs the same from both sides, nothing within one label (seed %i)', (seed) => {
    const problem = problemOf(seed, 3, 2, 6);
    const random = seeded(seed + 100);
    for (let k = 0; k < 40; k++) {
      const [a, b] = [wholeFrom(random, 0, 6), wholeFrom(random, 0, 6)];
      expect(frontierCost(problem, 0, 1, a, b)).toBeCloseTo(frontierCost(problem, 1, 0, b, a), 5);
      expect(frontierCost(problem, 0, 1, a, a)).toBe(0);
    }
  });

  it.each(SEEDS)('is added label by label as it is counted one by one (seed %i)', (seed) => {
    const problem = problemOf(seed, 3, 2, 7);
    for (let b = 0; b <= 7; b++) {
      const cost = new Float64Array(8);
      addFrontier(problem, 0, 1, b, cost);
      for (let a = 0; a <= 7; a++) expect(cost[a]).toBeCloseTo(frontierCost(problem, 0, 1, a, b), 4);
    }
  });

  it('between starts far apart is the sum of those between', () => {
    const problem = problemOf(9, 2, 1, 6);
    let sum = problem.apart;
    for (let i = 1; i < 5; i++) sum += problem.change[i] + problem.change[6 + i];
    expect(frontierCost(problem, 0, 1, 1, 5)).toBeCloseTo(sum, 5);
  });
});

describe('messages', () => {
  it.each(SEEDS)('are those that trying every pair of labels gives (seed %i)', (seed) => {
    const problem = problemOf(seed, 2, 1, 9);
    const random = seeded(seed + 50);
    const held = Float32Array.from({ length: 10 }, () => 5 * random());
    const message = held.slice();
    const least = runMessage(problem, 0, 1, message, new Float32Array(10));
    expect(least).toBeCloseTo(Math.min(...held), 5);
    for (let b = 0; b <= 9; b++) {
      const tried = Array.from(held, (value, a) => value + frontierCost(problem, 0, 1, a, b));
      expect(message[b] + least).toBeCloseTo(Math.min(...tried), 4);
    }
  });

  it.each(SEEDS)('are the same by the kernel and in plain TypeScript, to the bit (seed %i)', (seed) => {
    const problem = problemOf(seed, 9, 7, 5 + seed, 0.2);
    const [fast, plain] = [openSweeps(problem), openSweeps(problem, true)];
    expect(fast.row).toBe((problem.starts + 4) & ~3);
    expect(plain.row).toBe(problem.starts + 1);
    for (let round = 0; round < 4; round++) {
      fast.forward();
      plain.forward();
      expect(fast.backward()).toBe(plain.backward());
    }
    for (let x = 0; x < problem.nodes; x++) {
      for (let l = 0; l <= problem.starts; l++) {
        expect(fast.fromRight[x * fast.row + l]).toBe(plain.fromRight[x * plain.row + l]);
        expect(fast.fromDown[x * fast.row + l]).toBe(plain.fromDown[x * plain.row + l]);
      }
    }
  });

  it.each(SEEDS)('bound the energy from below, and labels reach it from above (seed %i)', (seed) => {
    const problem = problemOf(seed, 3, 2, 3);
    const best = exhaustive(problem);
    const { bound, energy, labels } = passMessages(problem, 30, 0);
    expect(bound).toBeLessThanOrEqual(best + 1e-3);
    expect(energy).toBeGreaterThanOrEqual(best - 1e-3);
    expect(energy).toBeCloseTo(energyOf(problem, labels), 5);
    // A chain has no loop in it, and messages are exact there.
    const chain = problemOf(seed, 6, 1, 3);
    expect(passMessages(chain, 30, 0).energy).toBeCloseTo(exhaustive(chain), 3);
  });
});

describe('the largest flow', () => {
  it.each(SEEDS)('leaves the cheapest of all cuts (seed %i)', (seed) => {
    const random = seeded(seed);
    const nodes = 8;
    const ends = Array.from({ length: nodes }, () => 8 * (random() - 0.5));
    const edges = Array.from({ length: 16 }, () => {
      const from = wholeFrom(random, 0, nodes - 1);
      return [from, (from + wholeFrom(random, 1, nodes - 1)) % nodes, 3 * random()] as const;
    });
    const costOf = (isSink: (node: number) => boolean) =>
      ends.reduce((sum, end, x) => sum + (end > 0 ? (isSink(x) ? end : 0) : isSink(x) ? 0 : -end), 0) +
      edges.reduce((sum, [from, to, cost]) => sum + (!isSink(from) && isSink(to) ? cost : 0), 0);
    let least = Number.POSITIVE_INFINITY;
    for (let cut = 0; cut < 2 ** nodes; cut++)
      least = Math.min(
        least,
        costOf((x) => ((cut >> x) & 1) === 1),
      );
    const flow = new MaxFlow(nodes, edges.length);
    for (let round = 0; round < 2; round++) {
      // Cleared and filled again, it finds the same.
      flow.clear();
      for (const [x, end] of ends.entries()) flow.addTerminal(x, end);
      for (const [from, to, cost] of edges) flow.addEdge(from, to, cost);
      flow.run();
      expect(costOf((x) => !flow.isOnSourceSide(x))).toBeCloseTo(least, 6);
    }
  });
});

describe('the solver', () => {
  it.each(SEEDS)('comes within a tenth of the best of all labellings (seed %i)', (seed) => {
    const problem = problemOf(seed, 3, 2, 4);
    const { labels, energy } = solveLabels(asCells(problem, 3), asCells(problem, 3).grid);
    const best = exhaustive(problem);
    expect(energy).toBeCloseTo(energyOf(problem, labels), 5);
    expect(energy).toBeGreaterThanOrEqual(best - 1e-3);
    expect(energy).toBeLessThanOrEqual(1.1 * best);
  });

  it.each(SEEDS)('never raises the energy by a move or a mode (seed %i)', (seed) => {
    const problem = problemOf(seed, 8, 6, 20, 0.2);
    const random = seeded(seed + 7);
    const from = allStill(problem).map(() => wholeFrom(random, 0, 20));
    const before = energyOf(problem, from);
    const moded = improveModes(problem, from, 5);
    const moved = expandLabels(moveEnergyOf(problem), from, [20, 0, 5, 10, 15], 2);
    expect(energyOf(problem, moded)).toBeLessThan(before);
    expect(energyOf(problem, moved)).toBeLessThan(before);
  });

  it.each(SEEDS)('ends close above what messages prove on larger grids (seed %i)', (seed) => {
    const problem = problemOf(seed, 12, 8, 24);
    const { energy } = solveLabels(asCells(problem, 12), asCells(problem, 12).grid);
    const { bound } = passMessages(problem, 60, 0);
    expect(energy).toBeGreaterThanOrEqual(bound - 1e-2);
    expect(energy).toBeLessThan(1.15 * bound);
  });

  it('gives the same labels each time', () => {
    const problem = problemOf(3, 10, 10, 18, 0.3);
    const cells = asCells(problem, 10);
    expect(solveLabels(cells, cells.grid).labels).toEqual(solveLabels(cells, cells.grid).labels);
  });

  it('answers a problem without nodes', () => {
    const none = { ...problemOf(1, 1, 1, 3), nodes: 0, unary: new Float32Array(0) };
    expect(
      solveLabels({ problem: none, cellOf: new Int32Array(0), living: 0 }, asCells(none, 1).grid),
    ).toEqual({ labels: new Int32Array(0), energy: 0 });
  });

  it('finds with every third start the labels that lie on them', () => {
    const problem = problemOf(4, 4, 3, 13);
    const third = everyNthStart(problem, 3);
    const { labels } = passMessages(third, 20, 0);
    const whole = fromEveryNth(labels, problem, 3);
    expect(energyOf(third, labels)).toBeCloseTo(energyOf(problem, whole), 3);
    for (const label of whole) expect(label === 13 || label % 3 === 0).toBe(true);
  });
});
