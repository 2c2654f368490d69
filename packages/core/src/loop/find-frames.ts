import { SIGNATURE_BYTES, signatureLuma } from '../motion/index.js';
import { reelFrameDistance } from './frame-distance.js';
import type { ReelItem } from './reel-edits.js';
import type { SeamField } from './seam-field.js';

/** A frame that differs from the one before by less than this share of a usual step shows nearly the same. */
const NEAR = 0.2;
/** The step that this share of steps stays below is taken for a usual one. */
const USUAL = 0.85;
/**
 * A frame whose mean luma lies below this is black, levels; limited range footage has black at 16 before it
 * is converted.
 */
const BLACK = 12;

/**
 * Frames that nearly repeat the one before them, by their places in the reel. Of a run of doubles the first
 * is kept.
 * @param first the source frame that the field's frame 0 is.
 */
export function nearDoubles(field: SeamField, first: number, items: readonly ReelItem[]): number[] {
  const steps = items.slice(1).map((item, i) => reelFrameDistance(field, first, items[i], item));
  // Not the mean, nor the median: most frames of a scene may be doubles.
  const usual = steps.sort((a, b) => a - b)[Math.floor((steps.length - 1) * USUAL)];
  if (!usual) return [];
  const doubles: number[] = [];
  let kept = 0;
  for (let place = 1; place < items.length; place++) {
    if (reelFrameDistance(field, first, items[kept], items[place]) < usual * NEAR) doubles.push(place);
    else kept = place;
  }
  return doubles;
}

/** Frames that are black, by their places in the reel. */
export function blackFrames(signatures: Uint8Array, first: number, items: readonly ReelItem[]): number[] {
  return items.flatMap(({ source }, place) => {
    const at = (source - first) * SIGNATURE_BYTES;
    if (at < 0 || at >= signatures.length) return [];
    const luma = signatureLuma(signatures.subarray(at, at + SIGNATURE_BYTES));
    let sum = 0;
    for (let p = 0; p < luma.length; p++) sum += luma[p];
    return sum / luma.length < BLACK ? [place] : [];
  });
}
