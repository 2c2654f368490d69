import { CHROMA_SHARES, chromaClassOf } from '../settle/index.js';
import type { ColourHistogram } from './colour-histogram.js';
import { type AssignBins, startAssigning } from './fast-nearest.js';
import { createOpponentSearch, scaleChroma } from './nearest.js';

/** Passes of k-means; centres are moved elsewhere after each but the last ones. */
const PASSES = 10;
const SETTLING_PASSES = 2;
/**
 * The share of a cluster's squared error that a second centre in it saves: two halves of an even spread keep
 * a quarter along one of three axes.
 */
const SPLIT_GAIN = 0.5;

export interface RefinedCentres {
  /** Three a centre. */
  readonly centres: Float64Array;
  /** Weighted squared error of the bins against the centres they belong to. */
  readonly error: number;
}

/**
 * k-means over the histogram's bins, freed from where it began: after a pass, centres whose loss would cost
 * little are moved into the clusters with the most error (Patanè & Russo 2001, "The enhanced LBG algorithm").
 * Differences of colour count in each bin as they do where it is seen.
 * @param start three a centre, as toOpponent gives them.
 */
export function refineCentres(histogram: ColourHistogram, start: Float64Array): RefinedCentres {
  const count = start.length / 3;
  const { weights, chromaWeights } = histogram;
  const classes = Uint8Array.from(weights, (weight, bin) => chromaClassOf(chromaWeights[bin] / weight));
  const assign = startAssigning(histogram, classes) ?? assignPlainly(histogram, classes);
  let centres = start;
  let error = 0;
  for (let pass = 0; pass < PASSES; pass++) {
    const sums = assign(centres);
    const clusters = Array.from({ length: count }, (_, i) => clusterOf(sums, i));
    const moved = centres.slice();
    for (const [i, { weights: shares, sums: values }] of clusters.entries()) {
      if (shares[0] > 0) for (let c = 0; c < 3; c++) moved[i * 3 + c] = values[c] / shares[c];
    }
    const errors = new Float64Array(count * 3);
    for (const [i, { weights: shares, squares }] of clusters.entries()) {
      for (let c = 0; c < 3; c++) {
        errors[i * 3 + c] = Math.max(0, squares[c] - shares[c] * moved[i * 3 + c] ** 2);
      }
    }
    error = errors.reduce((sum, one) => sum + one, 0);
    if (pass < PASSES - SETTLING_PASSES) relocate(moved, clusters, errors);
    centres = moved;
  }
  return { centres, error };
}

/** What belongs to one centre, along each axis. */
interface Cluster {
  readonly weights: readonly number[];
  readonly sums: readonly number[];
  readonly squares: readonly number[];
}

function clusterOf(sums: Float64Array, i: number): Cluster {
  const [weight, chroma, ...others] = sums.subarray(i * 8, i * 8 + 8);
  return { weights: [weight, chroma, chroma], sums: others.slice(0, 3), squares: others.slice(3) };
}

/** The plain way, where there is no kernel: the same in double precision. */
export function assignPlainly(histogram: ColourHistogram, classes: Uint8Array): AssignBins {
  const { bins, weights, chromaWeights, values } = histogram;
  const scales = CHROMA_SHARES.map(Math.sqrt);
  // Most bins stay with the centre they were with.
  const owners = new Int32Array(bins).fill(-1);
  return (centres) => {
    const searches = scales.map((scale) => createOpponentSearch(scaleChroma(centres, scale)));
    const out = new Float64Array((centres.length / 3) * 8);
    for (let bin = 0; bin < bins; bin++) {
      const [y, u, v] = values.subarray(bin * 3, bin * 3 + 3);
      const scale = scales[classes[bin]];
      const owner = searches[classes[bin]](y, u * scale, v * scale, owners[bin]);
      owners[bin] = owner;
      const at = owner * 8;
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

/**
 * Moves the centres that are missed least into the clusters that err most, as long as that gains.
 * @param spread squared error of each cluster along each axis.
 */
function relocate(centres: Float64Array, clusters: readonly Cluster[], spread: Float64Array): void {
  const count = clusters.length;
  const errors = clusters.map((_, i) => spread[i * 3] + spread[i * 3 + 1] + spread[i * 3 + 2]);
  const losses = clusters.map((cluster, i) => lossWithout(i, centres, cluster));
  const cheap = Array.from(losses.keys()).sort((a, b) => losses[a] - losses[b]);
  const dear = Array.from(errors.keys()).sort((a, b) => errors[b] - errors[a]);
  const used = new Uint8Array(count);
  for (let k = 0, d = 0; k < count && d < count; k++) {
    const from = cheap[k];
    if (used[from]) continue;
    while (d < count && (used[dear[d]] || dear[d] === from)) d++;
    if (d === count) break;
    const into = dear[d];
    if (errors[into] <= 0 || losses[from] > SPLIT_GAIN * errors[into]) break;
    used[from] = 1;
    used[into] = 1;
    splitInto(centres, spread, clusters[into], from, into);
  }
}

/** What the pixels of a cluster lose when they go to the nearest other centre. */
function lossWithout(i: number, centres: Float64Array, { weights: [weight, chroma] }: Cluster): number {
  if (weight === 0) return 0;
  let nearest = Number.POSITIVE_INFINITY;
  for (let j = 0; j < centres.length; j += 3) {
    if (j === i * 3) continue;
    const y = centres[i * 3] - centres[j];
    const u = centres[i * 3 + 1] - centres[j + 1];
    const v = centres[i * 3 + 2] - centres[j + 2];
    nearest = Math.min(nearest, weight * y * y + chroma * (u * u + v * v));
  }
  return nearest;
}

/**
 * Puts `from` beside `into`, one standard deviation apart on either side along the axis that errs most.
 */
function splitInto(
  centres: Float64Array,
  spread: Float64Array,
  { weights }: Cluster,
  from: number,
  into: number,
): void {
  let widest = 0;
  for (let c = 1; c < 3; c++) if (spread[into * 3 + c] > spread[into * 3 + widest]) widest = c;
  const step = Math.sqrt(spread[into * 3 + widest] / weights[widest]) * 0.8;
  for (let c = 0; c < 3; c++) centres[from * 3 + c] = centres[into * 3 + c];
  centres[from * 3 + widest] += step;
  centres[into * 3 + widest] -= step;
}
