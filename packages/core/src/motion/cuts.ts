import type { PixelFrame } from '../pixels/index.js';
import type { Span } from '../timing/index.js';
import { SIGNATURE_BYTES, SIGNATURE_SIZE, signatureLuma, writeSignature } from './signature.js';

/** Mean step of luma below which nothing is a cut, levels. */
const LEAST_STEP = 8;
/** A cut steps so many times further than the frames beside it do. */
const STANDS_OUT = 3;
/** Frames on either side that it is held against. */
const BESIDE = 2;
/** Where the histograms of luma share less than this, another picture is shown, whatever is beside it … */
const OTHER_LIGHT = 0.6;
/** … if it steps so far too, levels. */
const OTHER_STEP = 16;
/** … unless the picture from before comes back at once, so many times nearer: that was a flash. */
const COMES_BACK = 5;
const LEVELS_A_BIN = 16;

/**
 * Finds the cuts of a film: frames at which another scene begins. A cut stands alone, while what moves fast does
 * so for some frames, and a camera that pans keeps the spread of its light; pictures that each stand for one
 * frame differ in it, and after a flash the picture from before comes back.
 * @param signatures one a frame, see writeSignature.
 * @returns the first frame of every scene but the first, rising.
 */
export function findCuts(signatures: readonly Uint8Array[]): number[] {
  const lumas = signatures.map(signatureLuma);
  const steps = lumas.map((luma, f) => (f === 0 ? 0 : meanStep(lumas[f - 1], luma)));
  return [...lumas.keys()].filter((f) => {
    if (steps[f] < LEAST_STEP) return false;
    if (steps[f] >= OTHER_STEP && sharedLight(lumas[f - 1], lumas[f]) < OTHER_LIGHT)
      return !isFlash(lumas, f, steps[f]);
    for (let beside = f - BESIDE; beside <= f + BESIDE; beside++) {
      if (beside !== f && (steps[beside] ?? 0) * STANDS_OUT > steps[f]) return false;
    }
    return true;
  });
}

/** Whether the step to a frame is that into a flash, or out of it. */
function isFlash(lumas: readonly Uint8Array[], f: number, step: number): boolean {
  for (let beside = 1; beside <= BESIDE; beside++) {
    const pairs = [
      [f - 1, f + beside],
      [f - 1 - beside, f],
    ];
    for (const [a, b] of pairs) {
      if (a >= 0 && b < lumas.length && meanStep(lumas[a], lumas[b]) * COMES_BACK < step) return true;
    }
  }
  return false;
}

/** A span scene by scene. @param cuts first frames of other scenes, rising; those outside of it do not count. */
export function scenesWithin({ start, end }: Span, cuts: readonly number[]): Span[] {
  const bounds = [start, ...cuts.filter((cut) => cut > start && cut < end), end];
  return bounds.slice(1).map((until, scene) => ({ start: bounds[scene], end: until }));
}

/** Signatures that stand one behind the other, each by itself. */
export function signaturesIn(all: Uint8Array): Uint8Array[] {
  return Array.from({ length: all.length / SIGNATURE_BYTES }, (_, f) =>
    all.subarray(f * SIGNATURE_BYTES, (f + 1) * SIGNATURE_BYTES),
  );
}

/** The signature of a frame of any size, from four points in each of its cells. */
export function signatureOf({ rgba, width, height }: PixelFrame): Uint8Array {
  // Two points a cell each way.
  const columns = pointsAlong(width, SIGNATURE_SIZE.width);
  const rows = pointsAlong(height, SIGNATURE_SIZE.height);
  const small = new Uint8Array(SIGNATURE_SIZE.width * SIGNATURE_SIZE.height * 4);
  for (let j = 0; j < rows.length; j++) {
    for (let i = 0; i < columns.length; i++) {
      const at = (rows[j] * width + columns[i]) * 4;
      const to = ((j >> 1) * SIGNATURE_SIZE.width + (i >> 1)) * 4;
      small[to] += rgba[at] >> 2;
      small[to + 1] += rgba[at + 1] >> 2;
      small[to + 2] += rgba[at + 2] >> 2;
    }
  }
  const signature = new Uint8Array(SIGNATURE_BYTES);
  writeSignature(small, signature);
  return signature;
}

function pointsAlong(length: number, cells: number): Int32Array {
  return Int32Array.from({ length: cells * 2 }, (_, i) => Math.floor(((i + 0.5) * length) / (cells * 2)));
}

function meanStep(a: Uint8Array, b: Uint8Array): number {
  let sum = 0;
  for (let p = 0; p < a.length; p++) sum += Math.abs(a[p] - b[p]);
  return sum / a.length;
}

/** The share of the light that is spread alike, 0–1: the intersection of two histograms (Swain & Ballard 1991). */
function sharedLight(a: Uint8Array, b: Uint8Array): number {
  const [inA, inB] = [a, b].map(spreadOf);
  return inA.reduce((sum, count, bin) => sum + Math.min(count, inB[bin]), 0) / a.length;
}

function spreadOf(luma: Uint8Array): number[] {
  const counts = new Array<number>(256 / LEVELS_A_BIN).fill(0);
  for (const level of luma) counts[Math.floor(level / LEVELS_A_BIN)]++;
  return counts;
}
