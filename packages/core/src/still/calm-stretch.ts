import type { AlignedSignatures } from '../motion/index.js';
import type { Span } from '../timing/index.js';
import { edgeBand } from './plate-choice.js';

/** A plate and a stretch that meet along the ripples' edges. */
export interface CalmStretch {
  readonly plate: number;
  readonly span: Span;
  /** Mean difference of luma between the two along the edges, levels of 255. */
  readonly mismatch: number;
}

/** Frames that are compared with each other, at most: beyond, every n-th. */
const MOST_COMPARED = 400;

/**
 * The plate and the stretch of a given length that miss each other least where the masks fade. All frames are
 * compared with all others there; running sums then give every stretch.
 * @param moving how much each place moves, 0–255, of SIGNATURE_SIZE.
 * @param length of the stretch, frames.
 * @returns frames counted as the signatures are; null where nothing fades or the take is shorter than the
 * stretch.
 */
export function findCalmStretch(
  { stride, values, count }: AlignedSignatures,
  moving: Uint8Array,
  length: number,
): CalmStretch | null {
  const { places, weights, total } = edgeBand(moving);
  if (total === 0 || length < 1 || length > count) return null;
  const step = Math.ceil(count / MOST_COMPARED);
  const frames = Math.floor((count - 1) / step) + 1;
  const band = new Float32Array(frames * places.length);
  for (let frame = 0; frame < frames; frame++) {
    const at = frame * step * stride;
    for (let k = 0; k < places.length; k++) {
      band[frame * places.length + k] = (values[at + places[k]] * weights[k]) / total;
    }
  }
  const window = Math.max(1, Math.min(frames, Math.round(length / step)));
  let best = { plate: 0, start: 0, sum: Number.POSITIVE_INFINITY };
  const distances = new Float32Array(frames);
  for (let plate = 0; plate < frames; plate++) {
    for (let frame = 0; frame < frames; frame++) distances[frame] = missed(band, places.length, plate, frame);
    let sum = 0;
    for (let frame = 0; frame < frames; frame++) {
      sum += distances[frame];
      if (frame >= window) sum -= distances[frame - window];
      const start = frame - window + 1;
      // The plate lies in its stretch: then light and camera are those of its time.
      if (start < 0 || plate < start || plate > frame || sum >= best.sum) continue;
      best = { plate, start, sum };
    }
  }
  const start = Math.min(best.start * step, count - length);
  return {
    plate: Math.min(count - 1, best.plate * step),
    span: { start, end: start + length },
    mismatch: best.sum / window,
  };
}

function missed(band: Float32Array, width: number, a: number, b: number): number {
  let sum = 0;
  for (let k = 0, i = a * width, j = b * width; k < width; k++) sum += Math.abs(band[i + k] - band[j + k]);
  return sum;
}
