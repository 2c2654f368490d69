import { halved, type LumaPicture, softened } from './luma-picture.js';
import { SIGMA_FROM_MEDIAN, TUKEY } from './robust.js';

/**
 * Where a point of the plate lies in a frame: turned, stretched and moved about the picture's middle. With u,
 * v counted from the middle in shares of the width: u′ = u + stretch·u − turn·v + x, v′ = v + turn·u +
 * stretch·v + y.
 */
export interface Similarity {
  /** Shift in shares of the picture's width. */
  readonly x: number;
  readonly y: number;
  /** Scale less 1. */
  readonly stretch: number;
  /** Radians, clockwise, for small ones. */
  readonly turn: number;
}

export const IDENTITY: Similarity = { x: 0, y: 0, stretch: 0, turn: 0 };

/** How a frame lies on the plate. */
export interface Registration {
  readonly similarity: Similarity;
  /** What fitted best, believed or not: how far a frame lies off that is aligned already. */
  readonly measured: Similarity;
  /** `similarity` and `shift` were found; `none`: it cannot be trusted, and the frame stays as it is. */
  readonly kind: 'similarity' | 'shift' | 'none';
  /** Spread of what the alignment does not explain, outside what moves, before and after, levels. */
  readonly before: number;
  readonly after: number;
}

const LEVELS = 3;
/** Pixels with a gradient looked at per level, spread over cells. */
const MOST_PIXELS = 3000;
const CELL = 8;
/** Fewer textured pixels than this say nothing of the camera. */
const LEAST_PIXELS = 120;
/** Gradient, levels a pixel, below which a pixel is flat. */
const FLAT = 2;
/** Of the pixels looked at, the ones whose median tells how far the alignment is off. */
const SPREAD_STEP = 4;
/** Places that move less than this, of 255, are looked at: their rim is often all the texture there is. */
const LEAST_IGNORED = 20;
const ROUNDS = 12;
/** A step smaller than this ends a level, in pixels of it. */
const SETTLED = 2e-3;
const LEAST_NOISE = 0.4;
/** Beyond these it is another scene, not a camera that shakes. */
const FURTHEST_SHIFT = 0.12;
const FURTHEST_TURN = 0.12;
/** The residual must fall at least to this share, or by LEAST_GAIN levels, for a movement to be believed. */
const BELIEVED = 0.97;

/** The plate prepared: everything that does not depend on the frame. */
export interface AlignTemplate {
  /**
   * Finds how a frame of the same size lies on the plate.
   * @param start from where to look, as of the frame before.
   */
  register(frame: LumaPicture, start?: Similarity): Registration;
}

interface Light {
  gain: number;
  offset: number;
}

interface Level {
  readonly width: number;
  readonly height: number;
  /** Pixels looked at: luma, place from the middle and gradient. */
  readonly count: number;
  readonly luma: Float32Array;
  readonly u: Float32Array;
  readonly v: Float32Array;
  readonly across: Float32Array;
  readonly down: Float32Array;
}

/**
 * Prepares a plate for alignment: Gauss–Newton on luma with similarity, gain and offset, Tukey weights,
 * coarse to fine, the gradients taken from the plate (Baker and Matthews, Lucas–Kanade 20 Years On, 2004).
 * @param ignored places that move, one byte a pixel of the plate; what hardly moves counts.
 */
export function createAlignTemplate(plate: LumaPicture, ignored?: Uint8Array): AlignTemplate {
  const levels: Level[] = [];
  let picture = softened(softened(plate));
  let skip: LumaPicture | null = ignored ? { ...plate, values: Float32Array.from(ignored) } : null;
  for (let level = 0; level < LEVELS && Math.min(picture.width, picture.height) >= 24; level++) {
    levels.unshift(chooseWithin(picture, skip));
    picture = halved(picture);
    skip = skip && halved(skip);
  }
  return {
    register(frame, start = IDENTITY) {
      const soft = softened(softened(frame));
      const pictures = [soft];
      while (pictures.length < levels.length) pictures.unshift(halved(pictures[0]));
      const finest = levels.at(-1);
      if (!finest || finest.count < LEAST_PIXELS)
        return { similarity: IDENTITY, measured: IDENTITY, kind: 'none', before: 0, after: 0 };
      const before = spreadAt(finest, soft, IDENTITY);
      const attempt = (only: 'similarity' | 'shift', from: Similarity): Registration => {
        let similarity = from;
        for (const [i, level] of levels.entries()) similarity = refine(level, pictures[i], similarity, only);
        const after = spreadAt(finest, soft, similarity);
        const isNear =
          Math.hypot(similarity.x, similarity.y) < FURTHEST_SHIFT &&
          Math.abs(similarity.turn) < FURTHEST_TURN &&
          Math.abs(similarity.stretch) < FURTHEST_TURN;
        return isNear && after <= before * BELIEVED + LEAST_NOISE * 0.01
          ? { similarity, measured: similarity, kind: only, before, after }
          : { similarity: IDENTITY, measured: similarity, kind: 'none', before, after: before };
      };
      const full = attempt('similarity', start);
      if (full.kind !== 'none') return full;
      const shift = attempt('shift', IDENTITY);
      // Hardly anything to correct is no failure.
      if (shift.kind === 'none' && before <= LEAST_NOISE * 1.5) {
        return { similarity: IDENTITY, measured: full.measured, kind: 'similarity', before, after: before };
      }
      return shift;
    },
  };
}

/** The steepest pixels of every cell. */
function chooseWithin({ width, height, values }: LumaPicture, skip: LumaPicture | null): Level {
  const cells = Math.ceil(width / CELL) * Math.ceil(height / CELL);
  const perCell = Math.max(1, Math.floor(MOST_PIXELS / cells));
  const places: number[] = [];
  for (let top = 1; top < height - 1; top += CELL) {
    for (let left = 1; left < width - 1; left += CELL) {
      const inCell: [steepness: number, place: number][] = [];
      for (let y = top; y < Math.min(top + CELL, height - 1); y++) {
        for (let x = left; x < Math.min(left + CELL, width - 1); x++) {
          const p = y * width + x;
          if (skip && skip.values[p] > LEAST_IGNORED) continue;
          const steepness =
            Math.hypot(values[p + 1] - values[p - 1], values[p + width] - values[p - width]) / 2;
          if (steepness >= FLAT) inCell.push([steepness, p]);
        }
      }
      inCell.sort((a, b) => b[0] - a[0]);
      for (const [, place] of inCell.slice(0, perCell)) places.push(place);
    }
  }
  const pick = (of: (p: number) => number) => Float32Array.from(places, of);
  return {
    width,
    height,
    count: places.length,
    luma: pick((p) => values[p]),
    u: pick((p) => ((p % width) + 0.5) / width - 0.5),
    v: pick((p) => (Math.floor(p / width) + 0.5 - height / 2) / width),
    // Per share of the width, so that shifts are counted in it too.
    across: pick((p) => ((values[p + 1] - values[p - 1]) / 2) * width),
    down: pick((p) => ((values[p + width] - values[p - width]) / 2) * width),
  };
}

/** The frame's luma where the plate's pixels lie in it; NaN outside. */
function sampleAt(
  level: Level,
  frame: LumaPicture,
  { x, y, stretch, turn }: Similarity,
  out: Float32Array,
): void {
  const { width, height, values } = frame;
  for (let i = 0; i < level.count; i++) {
    const u = level.u[i];
    const v = level.v[i];
    const px = (u + stretch * u - turn * v + x + 0.5) * width - 0.5;
    const py = (v + turn * u + stretch * v + y) * width + height / 2 - 0.5;
    const left = Math.floor(px);
    const top = Math.floor(py);
    if (left < 0 || top < 0 || left + 1 >= width || top + 1 >= height) {
      out[i] = Number.NaN;
      continue;
    }
    const p = top * width + left;
    const right = px - left;
    const below = py - top;
    out[i] =
      (values[p] * (1 - right) + values[p + 1] * right) * (1 - below) +
      (values[p + width] * (1 - right) + values[p + width + 1] * right) * below;
  }
}

/** Robust spread of what is not explained, from every few pixels; at least LEAST_NOISE. */
function residualSpread(level: Level, sampled: Float32Array, { gain, offset }: Light): number {
  const some = new Float32Array(Math.ceil(level.count / SPREAD_STEP));
  let count = 0;
  for (let i = 0; i < level.count; i += SPREAD_STEP) {
    if (!Number.isNaN(sampled[i])) some[count++] = Math.abs(sampled[i] - gain * level.luma[i] - offset);
  }
  if (count === 0) return LEAST_NOISE;
  const sorted = some.subarray(0, count).sort();
  return Math.max(LEAST_NOISE, sorted[count >> 1] * SIGMA_FROM_MEDIAN);
}

/** How far plate and frame are apart where they lie like this, light aside: robust spread, levels. */
function spreadAt(level: Level, frame: LumaPicture, similarity: Similarity): number {
  const sampled = new Float32Array(level.count);
  sampleAt(level, frame, similarity, sampled);
  const light = { gain: 1, offset: 0 };
  for (let round = 0; round < 3; round++) {
    const spread = residualSpread(level, sampled, light);
    fitLight(level, sampled, light, TUKEY * spread);
  }
  return residualSpread(level, sampled, light);
}

/** Gain and offset by weighted least squares. */
function fitLight(level: Level, sampled: Float32Array, light: Light, reach: number): void {
  let [n, x, y, xx, xy] = [0, 0, 0, 0, 0];
  for (let i = 0; i < level.count; i++) {
    const u = (sampled[i] - light.gain * level.luma[i] - light.offset) / reach;
    if (!(u < 1 && u > -1)) continue;
    const weight = (1 - u * u) ** 2;
    n += weight;
    x += weight * level.luma[i];
    y += weight * sampled[i];
    xx += weight * level.luma[i] ** 2;
    xy += weight * level.luma[i] * sampled[i];
  }
  const spread = n * xx - x * x;
  if (spread <= 1e-6 * n * n) return;
  light.gain = Math.max(0.5, Math.min(2, (n * xy - x * y) / spread));
  light.offset = (y - light.gain * x) / n;
}

/** One level, from where the coarser one ended. */
function refine(
  level: Level,
  frame: LumaPicture,
  start: Similarity,
  only: 'similarity' | 'shift',
): Similarity {
  const unknowns = only === 'similarity' ? 6 : 4;
  const sampled = new Float32Array(level.count);
  const light: Light = { gain: 1, offset: 0 };
  let now = start;
  for (let round = 0; round < ROUNDS; round++) {
    sampleAt(level, frame, now, sampled);
    const reach = TUKEY * residualSpread(level, sampled, light);
    const solved = solveStep(level, sampled, light, reach, unknowns);
    if (!solved) return now;
    light.gain += solved[2];
    light.offset += solved[3];
    now = {
      x: now.x + solved[0],
      y: now.y + solved[1],
      stretch: now.stretch + (solved[4] ?? 0),
      turn: now.turn + (solved[5] ?? 0),
    };
    if (Math.hypot(solved[0], solved[1]) * level.width < SETTLED && round > 0) break;
  }
  return now;
}

/** Weighted normal equations for shift, light and, if wanted, stretch and turn. */
function solveStep(
  level: Level,
  sampled: Float32Array,
  { gain, offset }: Light,
  reach: number,
  unknowns: number,
): number[] | null {
  const normal = new Float64Array(unknowns * unknowns);
  const right = new Float64Array(unknowns);
  const slopes = new Float64Array(unknowns);
  let used = 0;
  for (let i = 0; i < level.count; i++) {
    const residual = sampled[i] - gain * level.luma[i] - offset;
    const t = residual / reach;
    if (!(t < 1 && t > -1)) continue;
    used++;
    const weight = (1 - t * t) ** 2;
    const across = gain * level.across[i];
    const down = gain * level.down[i];
    // How the residual falls as each unknown grows.
    slopes[0] = -across;
    slopes[1] = -down;
    slopes[2] = level.luma[i];
    slopes[3] = 1;
    if (unknowns > 4) {
      slopes[4] = -(across * level.u[i] + down * level.v[i]);
      slopes[5] = -(down * level.u[i] - across * level.v[i]);
    }
    for (let r = 0; r < unknowns; r++) {
      right[r] += weight * slopes[r] * residual;
      for (let c = 0; c <= r; c++) normal[r * unknowns + c] += weight * slopes[r] * slopes[c];
    }
  }
  if (used < LEAST_PIXELS / 4) return null;
  return solveSymmetric(normal, right, unknowns);
}

/** Cholesky; only the lower half of the matrix is given. Null where it has no single answer. */
function solveSymmetric(matrix: Float64Array, right: Float64Array, n: number): number[] | null {
  const factor = new Float64Array(n * n);
  for (let r = 0; r < n; r++) {
    for (let c = 0; c <= r; c++) {
      let sum = matrix[r * n + c] * (r === c ? 1 + 1e-9 : 1);
      for (let k = 0; k < c; k++) sum -= factor[r * n + k] * factor[c * n + k];
      if (r === c) {
        if (sum <= 0) return null;
        factor[r * n + r] = Math.sqrt(sum);
      } else factor[r * n + c] = sum / factor[c * n + c];
    }
  }
  const answer = new Array<number>(n).fill(0);
  for (let r = 0; r < n; r++) {
    let sum = right[r];
    for (let k = 0; k < r; k++) sum -= factor[r * n + k] * answer[k];
    answer[r] = sum / factor[r * n + r];
  }
  for (let r = n - 1; r >= 0; r--) {
    let sum = answer[r];
    for (let k = r + 1; k < n; k++) sum -= factor[k * n + r] * answer[k];
    answer[r] = sum / factor[r * n + r];
  }
  return answer;
}
