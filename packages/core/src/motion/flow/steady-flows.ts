import type { LumaPicture } from '../luma-picture.js';
import type { FlowField } from './flow-field.js';
import { misfit } from './moment.js';

/** Radius in which it is judged how well a flow fits, px. */
const FIT_RADIUS = 3;
/** A flow's own weight beside that of one before or after it. */
const OWN_WEIGHT = 2;
/** Difference of fit, levels, by which one flow outweighs another e-fold; it grows with what is left by the best. */
const CLEAR = { least: 1.5, growth: 0.25 };

/**
 * Flows between pairs of pictures that follow each other in time, each mixed with those before and after it wherever
 * these fit its pair as well: what one pair alone would guess wrong, its neighbours know.
 * @param pairs as many as flows, all of one size.
 */
export function steadyFlows(
  pairs: readonly (readonly [LumaPicture, LumaPicture])[],
  flows: readonly FlowField[],
): FlowField[] {
  return flows.map((flow, n) => {
    const near = [n - 1, n, n + 1].filter((k) => k >= 0 && k < flows.length);
    // The second picture as the first lies, against the first.
    const errors = near.map((k) => misfit(...pairs[n], flows[k], 0, FIT_RADIUS));
    const weights = near.map((k) => (k === n ? OWN_WEIGHT : 1));
    const [u, v] = [new Float32Array(flow.u.length), new Float32Array(flow.v.length)];
    const least = smallestOf(errors);
    const total = new Float32Array(u.length);
    for (const [i, k] of near.entries()) {
      const [error, weight, one] = [errors[i], weights[i], flows[k]];
      for (let p = 0; p < u.length; p++) {
        const worse = error[p] - least[p];
        const share =
          worse > 0 ? weight * Math.exp(-worse / (CLEAR.least + CLEAR.growth * least[p])) : weight;
        total[p] += share;
        u[p] += share * one.u[p];
        v[p] += share * one.v[p];
      }
    }
    for (let p = 0; p < u.length; p++) {
      u[p] /= total[p];
      v[p] /= total[p];
    }
    return { width: flow.width, height: flow.height, u, v };
  });
}

function smallestOf([first, ...others]: readonly Float32Array[]): Float32Array {
  const smallest = first.slice();
  for (const other of others) {
    for (let p = 0; p < smallest.length; p++) if (other[p] < smallest[p]) smallest[p] = other[p];
  }
  return smallest;
}
