import type { ColourHistogram } from './colour-histogram.js';
import { createOpponentSearch } from './nearest.js';

/** Passes of k-means; centres are moved elsewhere after each but the last ones. */
const PASSES = 6;
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
 * @param start three a centre, as toOpponent gives them.
 */
export function refineCentres(histogram: ColourHistogram, start: Float64Array): RefinedCentres {
  const count = start.length / 3;
  const { bins, weights, values } = histogram;
  let centres = start;
  let error = 0;
  // Most bins stay with the centre they were with.
  const owners = new Int32Array(bins).fill(-1);
  for (let pass = 0; pass < PASSES; pass++) {
    const search = createOpponentSearch(centres);
    const weight = new Float64Array(count);
    const sums = new Float64Array(count * 3);
    const squares = new Float64Array(count * 3);
    for (let bin = 0, at = 0; bin < bins; bin++, at += 3) {
      const i = search(values[at], values[at + 1], values[at + 2], owners[bin]);
      owners[bin] = i;
      const w = weights[bin];
      weight[i] += w;
      for (let c = 0; c < 3; c++) {
        const value = values[at + c];
        sums[i * 3 + c] += value * w;
        squares[i * 3 + c] += value * value * w;
      }
    }
    const moved = centres.slice();
    for (let i = 0; i < count; i++) {
      if (weight[i] === 0) continue;
      for (let c = i * 3; c < i * 3 + 3; c++) moved[c] = sums[c] / weight[i];
    }
    error = 0;
    for (let i = 0; i < count; i++) {
      for (let c = i * 3; c < i * 3 + 3; c++) error += squares[c] - weight[i] * moved[c] * moved[c];
    }
    if (pass < PASSES - SETTLING_PASSES) relocate(moved, weight, squares);
    centres = moved;
  }
  return { centres, error };
}

/** Moves the centres that are missed least into the clusters that err most, as long as that gains. */
function relocate(centres: Float64Array, weight: Float64Array, squares: Float64Array): void {
  const count = weight.length;
  /** Squared error along each axis, then of the whole cluster. */
  const spread = squares;
  const errors = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    for (let c = i * 3; c < i * 3 + 3; c++) {
      spread[c] = Math.max(0, squares[c] - weight[i] * centres[c] * centres[c]);
      errors[i] += spread[c];
    }
  }
  const losses = Float64Array.from({ length: count }, (_, i) => lossWithout(i, centres, weight));
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
    splitInto(centres, spread, weight, from, into);
  }
}

/** What the pixels of a cluster lose when they go to the nearest other centre. */
function lossWithout(i: number, centres: Float64Array, weight: Float64Array): number {
  if (weight[i] === 0) return 0;
  let nearest = Number.POSITIVE_INFINITY;
  for (let j = 0; j < weight.length; j++) {
    if (j === i) continue;
    const y = centres[i * 3] - centres[j * 3];
    const u = centres[i * 3 + 1] - centres[j * 3 + 1];
    const v = centres[i * 3 + 2] - centres[j * 3 + 2];
    nearest = Math.min(nearest, y * y + u * u + v * v);
  }
  return weight[i] * nearest;
}

/**
 * Puts `from` beside `into`, one standard deviation apart on either side along the axis of the widest spread.
 */
function splitInto(
  centres: Float64Array,
  spread: Float64Array,
  weight: Float64Array,
  from: number,
  into: number,
): void {
  let widest = 0;
  for (let c = 1; c < 3; c++) if (spread[into * 3 + c] > spread[into * 3 + widest]) widest = c;
  const step = Math.sqrt(spread[into * 3 + widest] / weight[into]) * 0.8;
  for (let c = 0; c < 3; c++) centres[from * 3 + c] = centres[into * 3 + c];
  centres[from * 3 + widest] += step;
  centres[into * 3 + widest] -= step;
}
