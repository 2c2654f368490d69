import { CHROMA_SHARES, chromaClassOf } from '../settle/index.js';
import type { ColourHistogram } from './colour-histogram.js';
import { type AssignBins, CENTRE_SUMS, startAssigning } from './fast-nearest.js';
import { type MoveCentres, type MovedCentres, movePlainly } from './move-centres.js';
import { createOpponentSearch, scaleChroma } from './nearest.js';

/** Passes of k-means; centres are moved elsewhere after each but the last ones. */
const PASSES = 10;
const SETTLING_PASSES = 2;
/**
 * k-means over the histogram's bins that does not depend on its start: after a pass, centres whose loss would
 * cost little are moved into the clusters with the most error (Patanè & Russo 2001, "The enhanced LBG
 * algorithm"). Differences of colour count in each bin as they do where it is seen.
 * @param start three a centre, as toOpponent gives them.
 * @param move moves the centres between passes: a kernel, or plain TypeScript where that cannot run.
 */
export function refineCentres(
  histogram: ColourHistogram,
  start: Float64Array,
  move: MoveCentres = movePlainly,
): MovedCentres {
  const { bins, weights, chromaWeights } = histogram;
  const classes = new Uint8Array(bins);
  for (let bin = 0; bin < bins; bin++) classes[bin] = chromaClassOf(chromaWeights[bin] / weights[bin]);
  const assign = startAssigning(histogram, classes) ?? assignPlainly(histogram, classes);
  let moved: MovedCentres = { centres: start, error: 0 };
  for (let pass = 0; pass < PASSES; pass++) {
    moved = move(moved.centres, assign(moved.centres), pass < PASSES - SETTLING_PASSES);
  }
  return moved;
}

/** Reference implementation, used where no kernel can run: the same in double precision. */
export function assignPlainly(histogram: ColourHistogram, classes: Uint8Array): AssignBins {
  const { bins, weights, chromaWeights, values } = histogram;
  const scales = CHROMA_SHARES.map(Math.sqrt);
  // Most bins stay with the centre they were with.
  const owners = new Int32Array(bins).fill(-1);
  return (centres) => {
    const searches = scales.map((scale) => createOpponentSearch(scaleChroma(centres, scale)));
    const out = new Float64Array((centres.length / 3) * CENTRE_SUMS);
    for (let bin = 0; bin < bins; bin++) {
      const [y, u, v] = values.subarray(bin * 3, bin * 3 + 3);
      const scale = scales[classes[bin]];
      const owner = searches[classes[bin]](y, u * scale, v * scale, owners[bin]);
      owners[bin] = owner;
      const at = owner * CENTRE_SUMS;
      const [weight, chroma] = [weights[bin], chromaWeights[bin]];
      out[at] += weight;
      out[at + 1] += chroma;
      out[at + 2] += weight * y;
      out[at + 3] += chroma * u;
      out[at + 4] += chroma * v;
      out[at + 5] += weight * y * y;
      out[at + 6] += chroma * u * u;
      out[at + 7] += chroma * v * v;
    }
    return out;
  };
}
