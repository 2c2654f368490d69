import { type AlignedSignatures, SIGNATURE_SIZE } from '../motion/index.js';

/** Frames of the reel that a plate is compared with, at most. */
const COMPARED = 48;

/** A frame to hold, and how far it misses what moves along the edge. */
export interface PlateChoice {
  /** Counted as the signatures are. */
  readonly frame: number;
  /** Mean difference of luma along the ripples' edge, levels of 255. */
  readonly mismatch: number;
}

export interface PlateChoices {
  /** The frame that is held now. */
  readonly now: PlateChoice;
  readonly best: PlateChoice;
}

/** The places where a mask fades: there frozen and moving parts meet. */
export interface EdgeBand {
  /** Of a signature's luma. */
  readonly places: readonly number[];
  /** 4α(1 − α), one a place. */
  readonly weights: readonly number[];
  readonly total: number;
}

/** @param moving how much each place moves, 0–255, of SIGNATURE_SIZE. */
export function edgeBand(moving: Uint8Array): EdgeBand {
  const places: number[] = [];
  const weights: number[] = [];
  for (let p = 0; p < SIGNATURE_SIZE.width * SIGNATURE_SIZE.height; p++) {
    const alpha = moving[p] / 255;
    if (alpha <= 0.02 || alpha >= 0.98) continue;
    places.push(p);
    weights.push(4 * alpha * (1 - alpha));
  }
  return { places, weights, total: weights.reduce((sum, weight) => sum + weight, 0) };
}

/**
 * Compares frames only where the mask fades, weighted by 4α(1 − α): there frozen and moving parts meet.
 * @param moving how much each place moves, 0–255, of SIGNATURE_SIZE.
 * @param shown frames of the reel.
 * @param candidates frames that may be held.
 * @returns null where nothing fades: then every frame is as good.
 */
export function choosePlate(
  { stride, values, count }: AlignedSignatures,
  moving: Uint8Array,
  shown: readonly number[],
  candidates: readonly number[],
  held: number,
): PlateChoices | null {
  const { places: band, weights, total } = edgeBand(moving);
  if (total === 0 || shown.length === 0) return null;
  const step = Math.max(1, Math.ceil(shown.length / COMPARED));
  const compared = shown.filter((frame, i) => i % step === 0 && frame >= 0 && frame < count);
  const mismatchOf = (plate: number): number => {
    let sum = 0;
    for (const frame of compared) {
      for (const [k, p] of band.entries()) {
        sum += weights[k] * Math.abs(values[plate * stride + p] - values[frame * stride + p]);
      }
    }
    return sum / (total * Math.max(1, compared.length));
  };
  const inReach = candidates.filter((frame) => frame >= 0 && frame < count);
  const now = { frame: held, mismatch: held >= 0 && held < count ? mismatchOf(held) : Number.NaN };
  let best: PlateChoice = now;
  for (const frame of inReach) {
    const mismatch = mismatchOf(frame);
    if (!(mismatch >= best.mismatch)) best = { frame, mismatch };
  }
  return { now, best };
}
