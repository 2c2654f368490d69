import { type AlignedSignatures, alignSignatures, SIGNATURE_SIZE } from '../motion/index.js';
import type { Rect } from '../pixels/index.js';
import { percentile } from './percentile.js';

/** Frames looked at to learn what moves. */
const MOTION_SAMPLES = 64;
/** Places of a signature whose values spread less than this over time stand still, levels. */
const LEAST_SPREAD = 1.2;
/** Nor do those that spread less than this many standard deviations of noise. */
const SPREADS_OF_NOISE = 3;
/** Places that count less than this are left out: they cost as much as the others. */
const LEAST_WEIGHT = 0.05;
const LUMA = SIGNATURE_SIZE.width * SIGNATURE_SIZE.height;
const CHROMA_CELL = 4;
const CELLS_ACROSS = SIGNATURE_SIZE.width / CHROMA_CELL;
const CELLS = LUMA / CHROMA_CELL ** 2;

/** Where a seam is looked for. */
export interface SeamPlaces {
  /** Only this part of the picture counts, in shares of its width and height; all by default. */
  readonly part?: Rect;
  /**
   * How much each place counts, 0–255, of SIGNATURE_SIZE: what moves of a picture that is held; all by
   * default.
   */
  readonly moving?: Uint8Array | null;
}

/** Distances between frames of a take, where it moves. All in levels, root mean square over what moves. */
export interface SeamField {
  readonly frames: number;
  /** What usually changes from one frame to the next, noise taken out. */
  readonly usualStep: number;
  /** Noise between two frames that show the same, squared levels. */
  readonly noise: number;
  /** Squared distance between two frames, noise included. */
  squared(a: number, b: number): number;
  /** Squared distances of one frame to `count` frames from `first` on. */
  squaredRow(a: number, first: number, count: number, out: Float32Array): void;
}

/**
 * Takes camera and light out of the signatures, and keeps the places where something moves, weighted by how
 * much.
 * @param signatures of neighbouring frames, count × SIGNATURE_BYTES.
 */
export function createSeamField(
  signatures: Uint8Array | AlignedSignatures,
  places: SeamPlaces = {},
): SeamField {
  const aligned = signatures instanceof Uint8Array ? alignSignatures(signatures) : signatures;
  const noise = noiseOf(aligned);
  const vectors = weightedVectors(aligned, motionWeights(aligned, noise, places));
  return fieldOf(vectors, aligned.count, 2 * noise ** 2);
}

/** How much each place of a signature counts: 0 where it stands still, 1 where it clearly moves. */
function motionWeights(aligned: AlignedSignatures, noise: number, places: SeamPlaces): Float32Array {
  const spread = spreadOverTime(aligned);
  const low = Math.max(LEAST_SPREAD, SPREADS_OF_NOISE * noise);
  return spread.map((value, d) => Math.min(1, Math.max(0, (value - low) / low)) * placeWeight(d, places));
}

/** Standard deviation of every place over the whole take. */
function spreadOverTime({ count, stride, values }: AlignedSignatures): Float32Array {
  const step = Math.max(1, Math.floor(count / MOTION_SAMPLES));
  const sums = new Float64Array(stride);
  const squares = new Float64Array(stride);
  let taken = 0;
  for (let frame = 0; frame < count; frame += step, taken++) {
    const at = frame * stride;
    for (let d = 0; d < stride; d++) {
      const value = values[at + d];
      sums[d] += value;
      squares[d] += value * value;
    }
  }
  return Float32Array.from(sums, (sum, d) => Math.sqrt(Math.max(0, squares[d] / taken - (sum / taken) ** 2)));
}

/**
 * Standard deviation of what changes at random from frame to frame: second differences take steady movement
 * out, the lower quartile of the places what moves unsteadily.
 */
function noiseOf({ count, stride, values }: AlignedSignatures): number {
  if (count < 3) return 0;
  const step = Math.max(1, Math.floor((count - 2) / MOTION_SAMPLES));
  const squares = new Float64Array(LUMA);
  let taken = 0;
  for (let frame = 1; frame < count - 1; frame += step, taken++) {
    const at = frame * stride;
    for (let d = 0; d < LUMA; d++) {
      squares[d] += (values[at + d - stride] - 2 * values[at + d] + values[at + d + stride]) ** 2;
    }
  }
  // The weights 1, −2, 1 make the variance six times as large.
  return Math.sqrt(squares.sort()[LUMA >> 2] / taken / 6);
}

/** How much a place of a signature counts by where it lies, 0–1. */
function placeWeight(place: number, { part, moving }: SeamPlaces): number {
  const luma = place < LUMA;
  const across = luma ? SIGNATURE_SIZE.width : CELLS_ACROSS;
  const index = luma ? place : (place - LUMA) % CELLS;
  const [column, row] = [index % across, Math.floor(index / across)];
  const x = (column + 0.5) / across;
  const y = (row + 0.5) / (luma ? SIGNATURE_SIZE.height : CELLS / CELLS_ACROSS);
  if (part && (x < part.x || x > part.x + part.width || y < part.y || y > part.y + part.height)) return 0;
  if (!moving) return 1;
  const step = luma ? 1 : CHROMA_CELL;
  let sum = 0;
  for (let dy = 0; dy < step; dy++) {
    for (let dx = 0; dx < step; dx++) {
      sum += moving[(row * step + dy) * SIGNATURE_SIZE.width + column * step + dx];
    }
  }
  return sum / (255 * step * step);
}

interface Vectors {
  readonly length: number;
  /** count × length; scaled so that a squared distance is the weighted mean of squared levels. */
  readonly values: Float32Array;
}

function weightedVectors({ count, stride, values }: AlignedSignatures, weights: Float32Array): Vectors {
  const places: number[] = [];
  let total = 0;
  for (let d = 0; d < stride; d++) {
    // Chroma stands for sixteen pixels and is half as strong to the eye.
    if (weights[d] > LEAST_WEIGHT) places.push(d);
    total += d < LUMA ? weights[d] : 0;
  }
  const length = Math.ceil(places.length / 4) * 4;
  const scaled = new Float32Array(count * length);
  const scale = total > 0 ? 1 / total : 0;
  for (const [k, d] of places.entries()) {
    const factor = Math.sqrt(weights[d] * scale * (d < LUMA ? 1 : CHROMA_CELL));
    const middle = values[(count >> 1) * stride + d];
    for (let frame = 0; frame < count; frame++) {
      scaled[frame * length + k] = (values[frame * stride + d] - middle) * factor;
    }
  }
  return { length, values: scaled };
}

/** @param mostNoise squared distance that noise alone can make. */
function fieldOf({ length, values }: Vectors, frames: number, mostNoise: number): SeamField {
  const norms = new Float64Array(frames);
  for (let frame = 0; frame < frames; frame++)
    norms[frame] = dot(values, frame * length, frame * length, length);
  const squared = (a: number, b: number) =>
    a === b ? 0 : Math.max(0, norms[a] + norms[b] - 2 * dot(values, a * length, b * length, length));
  const steps: number[] = [];
  const floors: number[] = [];
  let smallest = Number.POSITIVE_INFINITY;
  for (let frame = 1; frame < frames; frame++) {
    const one = squared(frame - 1, frame);
    steps.push(one);
    smallest = Math.min(smallest, one);
    // Motion grows with the square of the distance in time, noise does not.
    if (frame > 1) floors.push((4 * one - squared(frame - 2, frame)) / 3);
  }
  const noise = frames < 2 ? 0 : Math.max(0, Math.min(percentile(floors, 0.25), smallest, mostNoise));
  const usual = steps.map((step) => Math.sqrt(Math.max(0, step - noise)));
  return {
    frames,
    noise,
    usualStep: usual.length > 0 ? usual.reduce((sum, step) => sum + step, 0) / usual.length : 0,
    squared,
    squaredRow(a, first, count, out) {
      rowOfSquares(values, norms, length, a, first, count, out);
    },
  };
}

/** One row of the Gram product, four frames at once. */
function rowOfSquares(
  values: Float32Array,
  norms: Float64Array,
  length: number,
  a: number,
  first: number,
  count: number,
  out: Float32Array,
): void {
  const at = a * length;
  let k = 0;
  for (; k + 4 <= count; k += 4) {
    const b0 = (first + k) * length;
    const b1 = b0 + length;
    const b2 = b1 + length;
    const b3 = b2 + length;
    let [s0, s1, s2, s3] = [0, 0, 0, 0];
    for (let d = 0; d < length; d++) {
      const value = values[at + d];
      s0 += value * values[b0 + d];
      s1 += value * values[b1 + d];
      s2 += value * values[b2 + d];
      s3 += value * values[b3 + d];
    }
    out[k] = Math.max(0, norms[a] + norms[first + k] - 2 * s0);
    out[k + 1] = Math.max(0, norms[a] + norms[first + k + 1] - 2 * s1);
    out[k + 2] = Math.max(0, norms[a] + norms[first + k + 2] - 2 * s2);
    out[k + 3] = Math.max(0, norms[a] + norms[first + k + 3] - 2 * s3);
  }
  for (; k < count; k++) {
    out[k] = Math.max(0, norms[a] + norms[first + k] - 2 * dot(values, at, (first + k) * length, length));
  }
}

function dot(values: Float32Array, a: number, b: number, length: number): number {
  let [s0, s1, s2, s3] = [0, 0, 0, 0];
  for (let d = 0; d < length; d += 4) {
    s0 += values[a + d] * values[b + d];
    s1 += values[a + d + 1] * values[b + d + 1];
    s2 += values[a + d + 2] * values[b + d + 2];
    s3 += values[a + d + 3] * values[b + d + 3];
  }
  return s0 + s1 + s2 + s3;
}
