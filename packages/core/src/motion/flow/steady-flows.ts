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
    for (let p = 0; p < u.length; p++) {
      let least = Number.POSITIVE_INFINITY;
      for (const error of errors) least = Math.min(least, error[p]);
      let total = 0;
      for (const [i, k] of near.entries()) {
        const weight = weights[i] * Math.exp((least - errors[i][p]) / (CLEAR.least + CLEAR.growth * least));
        total += weight;
        u[p] += weight * flows[k].u[p];
        v[p] += weight * flows[k].v[p];
      }
      u[p] /= total;
      v[p] /= total;
    }
    return { width: flow.width, height: flow.height, u, v };
  });
}
