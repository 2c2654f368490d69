import type { LumaPicture } from './luma-picture.js';
import { createAlignTemplate, IDENTITY, type Similarity } from './register.js';
import { warpLuma } from './warp.js';

/** A place moves whose difference is this many times the usual one, and at least so many levels. */
const MOVES_FROM = 3;
const LEAST_MOVE = 5;
/** If more of the picture moves, nothing is left to see the camera by. */
const MOST_MOVING = 0.65;
/** If the camera is lost in more of the samples, it is left as it is. */
const MOST_LOST = 0.15;
/** A camera that strays less than this is still, px of the small picture, root mean square. */
const LEAST_SHAKE = 0.12;
/** Around what moves nothing is believed either, px of the small picture. */
const RIM = 3;

/**
 * What moves by itself in a take, to be left out when its camera is looked for.
 * @param plate the frame that the others are to be brought to.
 * @param samples other frames, of its size.
 * @returns 255 where something moves, one byte a pixel; null where the camera is still, or cannot be seen.
 */
export function findMovers(plate: LumaPicture, samples: readonly LumaPicture[]): Uint8Array | null {
  const { width, height } = plate;
  const open = createAlignTemplate(plate);
  const differences = samples.map((sample) => {
    const found = open.register(sample).measured;
    const ways = [IDENTITY, found].map((way) => differenceOf(plate, sample, way));
    // What fills the picture may have been taken for the camera: then the frame as it is lies better.
    return medianOf(ways[1]) < medianOf(ways[0]) ? ways[1] : ways[0];
  });
  const often = new Float32Array(width * height);
  const column = new Float32Array(samples.length);
  for (let p = 0; p < often.length; p++) {
    for (let k = 0; k < samples.length; k++) column[k] = differences[k][p];
    often[p] = column.sort()[Math.floor(0.7 * (samples.length - 1))];
  }
  const limit = Math.max(LEAST_MOVE, MOVES_FROM * medianOf(often));
  const movers = widened(often, width, height, limit);
  if (movers.filter((value) => value > 0).length > MOST_MOVING * movers.length) return null;
  const sighted = createAlignTemplate(plate, movers);
  const found = samples.map((sample) => sighted.register(sample));
  const lost = found.filter(({ kind }) => kind === 'none').length;
  const squared = found.reduce((sum, { measured: { x, y } }) => sum + x * x + y * y, 0) * width ** 2;
  const isStill = Math.sqrt(squared / samples.length) < LEAST_SHAKE;
  return isStill || lost > MOST_LOST * samples.length ? null : movers;
}

function differenceOf(plate: LumaPicture, sample: LumaPicture, way: Similarity): Float32Array {
  const laid = way === IDENTITY ? sample : warpLuma(sample, way);
  return plate.values.map((value, p) => Math.abs(value - laid.values[p]));
}

function medianOf(values: Float32Array): number {
  return Float32Array.from(values).sort()[values.length >> 1];
}

/** The places above a limit, and a rim around them. */
function widened(values: Float32Array, width: number, height: number, limit: number): Uint8Array {
  const out = new Uint8Array(values.length);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (values[y * width + x] <= limit) continue;
      for (let v = Math.max(0, y - RIM); v <= Math.min(height - 1, y + RIM); v++) {
        out.fill(255, v * width + Math.max(0, x - RIM), v * width + Math.min(width, x + RIM + 1));
      }
    }
  }
  return out;
}
