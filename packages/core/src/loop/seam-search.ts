import type { Span } from '../timing/index.js';
import type { SeamField } from './seam-field.js';
import { seamScore } from './seam-score.js';
import { FIRST_TAP, TAPS } from './taps.js';

/** A place where the take meets itself: frames `start` … `end` − 1, and on to `start` again. */
export interface SeamCandidate {
  readonly start: number;
  /** Exclusive. */
  readonly end: number;
  /** 0–100; by the size of its step alone, until it is measured. */
  readonly score: number;
  /** Mean movement inside the loop as a share of the whole take's. */
  readonly moves: number;
  /** What the candidates are ordered by: the score, less where little moves or it is very short. */
  readonly rank: number;
}

export interface SeamLimits {
  /** Frames among which a loop lies, end exclusive. */
  readonly from: number;
  readonly to: number;
  /** Length of the loop in frames. */
  readonly shortest: number;
  readonly longest: number;
  /** Candidates wanted. */
  readonly most: number;
}

/** A loop in which this share of the usual movement is left is lively enough. */
const LIVELY = 0.35;
/** Frames by which length stops mattering. */
const SHORT = 6;
/** Loops that share more than this of their joint length are the same one. */
const SAME = 0.7;
/** Candidates that are sorted before overlapping ones go. */
const MOST_KEPT = 4000;

/**
 * All joints of the take between two limits of length, the best first. The distances are filtered along the
 * diagonal, so that both sides of the joint move alike, not only look alike.
 */
export function searchSeams(field: SeamField, limits: SeamLimits): SeamCandidate[] {
  const { from, shortest, most } = limits;
  const to = Math.min(limits.to, field.frames);
  const longest = Math.min(limits.longest, to - from);
  if (shortest > longest) return [];
  const lags = longest - shortest + 1;
  const jumps = squaredJumps(field, { from, to, shortest, longest });
  const movement = runningMovement(field);
  const usual = movement(0, field.frames);
  const best: SeamCandidate[] = [];
  for (let a = from; a < to; a++) {
    for (let lag = 0; lag < lags && a + shortest + lag <= to; lag++) {
      const squared = jumps[(a - from) * lags + lag];
      if (!Number.isFinite(squared) || !isLowest(jumps, a - from, lag, lags, to - from, squared)) continue;
      const end = a + shortest + lag;
      const score = seamScore(Math.sqrt(Math.max(0, squared - field.noise)), field.usualStep);
      const moves = usual > 0 ? movement(a, end) / usual : 1;
      const length = end - a;
      best.push({ start: a, end, score, moves, rank: rankOf(score, moves, length) });
    }
  }
  best.sort((one, other) => other.rank - one.rank || one.start - other.start || one.end - other.end);
  return withoutOverlaps(best.slice(0, MOST_KEPT), most);
}

/**
 * Squared jumps of all joints: row a − from, column length − shortest; noise is still in them, and infinite
 * is what the take does not have. Distances are filtered along the diagonal.
 */
export function squaredJumps(
  field: SeamField,
  { from, to, shortest, longest }: Omit<SeamLimits, 'most'>,
): Float32Array {
  const lags = longest - shortest + 1;
  // Row a holds the distances from frame a to the frames a + shortest … a + longest, as far as there are.
  const rows = new Float32Array((to - from) * lags).fill(Number.NaN);
  for (let a = from; a < to; a++) {
    const first = a + shortest;
    const count = Math.min(lags, to - first);
    if (count <= 0) break;
    const at = (a - from) * lags;
    field.squaredRow(a, first, count, rows.subarray(at, at + count));
  }
  const jumps = new Float32Array((to - from) * lags).fill(Number.POSITIVE_INFINITY);
  for (let a = from; a < to; a++) {
    for (let lag = 0; lag < lags && a + shortest + lag <= to; lag++) {
      jumps[(a - from) * lags + lag] = filtered(rows, a - from, lag, lags);
    }
  }
  return jumps;
}

/** A candidate whose joint was measured. */
export function rescored(candidate: SeamCandidate, score: number): SeamCandidate {
  const { start, end, moves } = candidate;
  return { ...candidate, score, rank: rankOf(score, moves, end - start) };
}

function rankOf(score: number, moves: number, length: number): number {
  return score * liveliness(moves) * (length / (length + SHORT));
}

/** How lively a loop is against the whole take, 0–1: a stretch in which nothing moves is no loop. */
export function liveliness(moves: number): number {
  return Math.min(1, moves / LIVELY);
}

/** The weighted mean along the diagonal of what is known. */
function filtered(rows: Float32Array, row: number, lag: number, lags: number): number {
  let sum = 0;
  let weight = 0;
  for (let k = 0; k < TAPS.length; k++) {
    const at = row + FIRST_TAP + k;
    if (at < 0) continue;
    const value = rows[at * lags + lag];
    // Past the take's end, or before its beginning.
    if (value === undefined || Number.isNaN(value)) continue;
    sum += TAPS[k] * value;
    weight += TAPS[k];
  }
  return weight === 0 ? Number.POSITIVE_INFINITY : sum / weight;
}

/** Whether no neighbour, earlier or later, shorter or longer, is better. */
function isLowest(
  jumps: Float32Array,
  row: number,
  lag: number,
  lags: number,
  rows: number,
  value: number,
): boolean {
  for (let r = Math.max(0, row - 1); r <= Math.min(rows - 1, row + 1); r++) {
    for (let l = Math.max(0, lag - 1); l <= Math.min(lags - 1, lag + 1); l++) {
      if (jumps[r * lags + l] < value) return false;
    }
  }
  return true;
}

/** Mean step between two frames of the take, from running sums. Levels. */
export function runningMovement(field: SeamField): (from: number, to: number) => number {
  const sums = new Float64Array(field.frames + 1);
  for (let frame = 1; frame < field.frames; frame++) {
    sums[frame + 1] = sums[frame] + Math.sqrt(Math.max(0, field.squared(frame - 1, frame) - field.noise));
  }
  return (from, to) => (to - from > 1 ? (sums[to] - sums[from + 1]) / (to - from - 1) : 0);
}

function withoutOverlaps(sorted: readonly SeamCandidate[], most: number): SeamCandidate[] {
  const kept: SeamCandidate[] = [];
  for (const candidate of sorted) {
    if (kept.length === most) break;
    if (!kept.some((other) => isSameLoop(candidate, other))) kept.push(candidate);
  }
  return kept;
}

/** Whether two loops share so much that they look like one. */
export function isSameLoop(a: Span, b: Span): boolean {
  const both = Math.min(a.end, b.end) - Math.max(a.start, b.start);
  return both > SAME * (Math.max(a.end, b.end) - Math.min(a.start, b.start));
}
