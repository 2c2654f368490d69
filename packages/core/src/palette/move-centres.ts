import { CENTRE_SUMS } from './fast-nearest.js';

/**
 * The share of a cluster's squared error that a second centre in it saves: two halves of an even spread keep
 * a quarter along one of three axes.
 */
export const SPLIT_GAIN = 0.5;

/** Centres after a pass. */
export interface MovedCentres {
  /** Three a centre. */
  readonly centres: Float64Array;
  /** Weighted squared error of what belongs to each, against its mean. */
  readonly error: number;
}

/**
 * @param sums what belongs to each centre, see AssignBins.
 * @param relocates whether those that are missed least go where the error is, after all have gone to their means.
 */
export type MoveCentres = (centres: Float64Array, sums: Float64Array, relocates: boolean) => MovedCentres;

/** Reference implementation, used where no kernel can run. */
export const movePlainly: MoveCentres = (centres, sums, relocates) => {
  const count = centres.length / 3;
  const clusters = Array.from({ length: count }, (_, i) => clusterOf(sums, i));
  const moved = centres.slice();
  for (const [i, { weights: shares, sums: values }] of clusters.entries()) {
    if (shares[0] > 0) for (let c = 0; c < 3; c++) moved[i * 3 + c] = values[c] / shares[c];
  }
  const errors = new Float64Array(count * 3);
  for (const [i, { weights: shares, squares }] of clusters.entries()) {
    for (let c = 0; c < 3; c++) {
      const mean = moved[i * 3 + c];
      errors[i * 3 + c] = Math.max(0, squares[c] - shares[c] * (mean * mean));
    }
  }
  const error = errors.reduce((sum, one) => sum + one, 0);
  if (relocates) relocate(moved, clusters, errors);
  return { centres: moved, error };
};

/** What belongs to one centre, along each axis. */
interface Cluster {
  readonly weights: readonly number[];
  readonly sums: readonly number[];
  readonly squares: readonly number[];
}

function clusterOf(sums: Float64Array, i: number): Cluster {
  const [weight, chroma, ...others] = sums.subarray(i * CENTRE_SUMS, (i + 1) * CENTRE_SUMS);
  return { weights: [weight, chroma, chroma], sums: others.slice(0, 3), squares: others.slice(3) };
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
