import {
  type FlowField,
  type FlowFinder,
  flowAtMoment,
  flowPicture,
  type LumaPicture,
  steadyFlows,
} from '../../motion/index.js';
import type { EndPair } from './ends.js';

/** Where everything goes from the end of a loop to its start, frame by frame of the joint. */
export interface LedFlows {
  /** Of each pair, as it lies at its moment. */
  readonly between: readonly FlowField[];
  /** From the end to the start, and back. */
  readonly forth: readonly FlowField[];
  readonly back: readonly FlowField[];
}

/**
 * Flows of every second pair, begun from the one before; those between are the means of their neighbours. All are
 * steadied.
 * @param moments 0–1 of each pair.
 */
export function findLedFlows(
  pairs: readonly EndPair[],
  moments: readonly number[],
  finder: FlowFinder,
): LedFlows {
  const pyramids = pairs.map(({ pictures }, n) =>
    isLookedFor(n, pairs.length) ? pictures.map(flowPicture) : null,
  );
  const along = (first: 0 | 1): FlowField[] => {
    const flows: FlowField[] = [];
    let last: FlowField | undefined;
    for (const [n, pictures] of pyramids.entries()) {
      if (!pictures) continue;
      last = finder.between(pictures[first], pictures[1 - first], last);
      flows[n] = last;
    }
    for (let n = 1; n < pairs.length; n++) flows[n] ??= halfway(flows[n - 1], flows[n + 1]);
    return steadyFlows(
      pairs.map(({ pictures }): [LumaPicture, LumaPicture] => [pictures[first], pictures[1 - first]]),
      flows,
    );
  };
  const [forth, back] = [along(0), along(1)];
  const between = pairs.map(({ pictures }, n) => flowAtMoment(...pictures, forth[n], back[n], moments[n]));
  return { between, forth, back };
}

function isLookedFor(n: number, count: number): boolean {
  return n % 2 === 0 || n === count - 1;
}

function halfway(one: FlowField, other: FlowField): FlowField {
  const mean = (a: Float32Array, b: Float32Array) => a.map((value, p) => 0.5 * (value + b[p]));
  return { width: one.width, height: one.height, u: mean(one.u, other.u), v: mean(one.v, other.v) };
}
