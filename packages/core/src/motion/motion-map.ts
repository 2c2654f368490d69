import type { Size } from '../pixels/index.js';
import { type LumaPicture, softened } from './luma-picture.js';
import { createAlignTemplate, IDENTITY } from './register.js';
import { warpLuma } from './warp.js';

/** Frames looked at, at most. */
export const MOTION_FRAMES = 32;
/**
 * Iterations of alignment and measurement: what moves in the first is masked out of the alignment in the
 * second.
 */
const ROUNDS = 2;
/**
 * Spreads of the floor beyond which a place may move, and from which it surely does; and the least, levels.
 */
const MAYBE = { spreads: 6, levels: 2 };
const SURELY = { spreads: 12, levels: 4 };
/** Smaller parts than this share of the picture are crumbs. */
const CRUMB = 0.0006;
const MOST_PARTS = 250;
/** Places looked at for the light; darker ones, in levels, say little of it. */
const LIGHT_STEP = 11;
const DARK = 16;
/** Moving places are widened by this before they are left out of the aligning, px. */
const MARGIN = 4;

/** One connected part that moves. */
export interface MovingPart {
  /** Its number in the map, from 1. */
  readonly label: number;
  /** Places in it. */
  readonly area: number;
  /** Mean spread over time, levels. */
  readonly spread: number;
}

/** Where a stretch of footage moves, camera and light taken out. */
export interface MotionMap extends Size {
  /** The part each place belongs to; 0 stands still. */
  readonly labels: Uint8Array;
  /** The largest first. */
  readonly parts: readonly MovingPart[];
}

/**
 * Standard deviation over time of the aligned frames, against the noise floor (the commonest value), with
 * hysteresis, opened by 1, closed by 2, holes filled, crumbs dropped.
 * @param frames of one size, about ALIGN_SIDE on the longer side; at most MOTION_FRAMES are worth the time.
 */
export function mapMotion(frames: readonly LumaPicture[]): MotionMap {
  const [{ width, height }] = frames;
  let moving: Uint8Array = new Uint8Array(width * height);
  let spread: Float32Array = new Float32Array(width * height);
  for (let round = 0; round < ROUNDS; round++) {
    const aligned = alignAll(frames, round === 0 ? undefined : widen(moving, width, height, MARGIN));
    spread = spreadOverTime(aligned);
    moving = movingPlaces(spread, quickNoise(aligned), width, height);
  }
  return labelParts(moving, spread, width, height);
}

/** What moves and a margin around it, 255: to be left out when the camera is looked for. */
export function movingMargin({ width, height, labels }: MotionMap): Uint8Array {
  const moving = Uint8Array.from(labels, (label) => Number(label > 0));
  return widen(moving, width, height, MARGIN).map((place) => 255 * place);
}

/** All frames as the middle one lies; NaN where a frame does not reach. */
function alignAll(frames: readonly LumaPicture[], ignored?: Uint8Array): Float32Array[] {
  const middle = frames.length >> 1;
  const template = createAlignTemplate(frames[middle], ignored);
  const aligned: Float32Array[] = new Array(frames.length);
  for (const [from, to, by] of [
    [middle, frames.length, 1],
    [middle - 1, -1, -1],
  ] as const) {
    let start = IDENTITY;
    for (let i = from; i !== to; i += by) {
      const { similarity } = template.register(frames[i], start);
      start = similarity;
      aligned[i] = softened(warpLuma(frames[i], similarity)).values;
    }
  }
  return evenLight(aligned);
}

/** Takes each frame's own brightness out, by the median of the ratio to the middle frame. */
function evenLight(frames: Float32Array[]): Float32Array[] {
  const reference = frames[frames.length >> 1];
  return frames.map((frame) => {
    const ratios = new Float32Array(Math.ceil(frame.length / LIGHT_STEP));
    let count = 0;
    for (let p = 0; p < frame.length; p += LIGHT_STEP) {
      if (reference[p] > DARK) ratios[count++] = frame[p] / reference[p];
    }
    const gain = ratios.subarray(0, count).sort()[count >> 1] || 1;
    return frame.map((value) => value / gain);
  });
}

function spreadOverTime(frames: readonly Float32Array[]): Float32Array {
  const sums = new Float64Array(frames[0].length);
  const squares = new Float64Array(frames[0].length);
  for (const frame of frames) {
    for (let p = 0; p < frame.length; p++) {
      sums[p] += frame[p];
      squares[p] += frame[p] * frame[p];
    }
  }
  return Float32Array.from(sums, (sum, p) =>
    Math.sqrt(Math.max(0, squares[p] / frames.length - (sum / frames.length) ** 2)),
  );
}

function movingPlaces(spread: Float32Array, noise: number, width: number, height: number): Uint8Array {
  const low = Math.max(MAYBE.spreads * noise, MAYBE.levels);
  const high = Math.max(SURELY.spreads * noise, SURELY.levels);
  const maybe = Uint8Array.from(spread, (value) => Number(value > low));
  const surely = Uint8Array.from(spread, (value) => Number(value > high));
  const grown = spreadWithin(surely, maybe, width, height);
  const opened = widen(shrink(grown, width, height, 1), width, height, 1);
  const closed = shrink(widen(opened, width, height, 2), width, height, 2);
  return fillHoles(closed, width, height);
}

/**
 * Standard deviation of what changes at random: second differences take steady movement out, the lower
 * quartile over the places what moves unsteadily.
 */
function quickNoise(frames: readonly Float32Array[]): number {
  if (frames.length < 3) return 0;
  const squares = new Float64Array(frames[0].length);
  for (let i = 1; i < frames.length - 1; i++) {
    const [before, now, after] = [frames[i - 1], frames[i], frames[i + 1]];
    for (let p = 0; p < now.length; p++) squares[p] += (before[p] - 2 * now[p] + after[p]) ** 2;
  }
  return Math.sqrt(squares.sort()[squares.length >> 2] / (frames.length - 2) / 6);
}

/** From the seeds over all places of the ground that hang together with them. */
function spreadWithin(seeds: Uint8Array, ground: Uint8Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array(seeds.length);
  const stack: number[] = [];
  for (let p = 0; p < seeds.length; p++) if (seeds[p]) stack.push(p);
  while (stack.length > 0) {
    const p = stack.pop() as number;
    if (out[p] || !(ground[p] || seeds[p])) continue;
    out[p] = 1;
    const x = p % width;
    if (x > 0) stack.push(p - 1);
    if (x < width - 1) stack.push(p + 1);
    if (p >= width) stack.push(p - width);
    if (p < width * (height - 1)) stack.push(p + width);
  }
  return out;
}

/** Places that are set, or lie within so many steps of one (a square). */
function widen(places: Uint8Array, width: number, height: number, by: number): Uint8Array {
  return near(near(places, width, height, by, true, 1), width, height, by, false, 1);
}

function shrink(places: Uint8Array, width: number, height: number, by: number): Uint8Array {
  return near(near(places, width, height, by, true, 0), width, height, by, false, 0);
}

/** Places that have one of the wanted kind within so many steps along rows or columns become of that kind. */
function near(
  places: Uint8Array,
  width: number,
  height: number,
  by: number,
  alongRows: boolean,
  wanted: 0 | 1,
): Uint8Array {
  const out = places.slice();
  const stride = alongRows ? 1 : width;
  const most = (alongRows ? width : height) - 1;
  for (let p = 0; p < places.length; p++) {
    if (places[p] !== wanted) continue;
    const at = alongRows ? p % width : Math.floor(p / width);
    const from = Math.max(-by, -at);
    const to = Math.min(by, most - at);
    for (let k = from; k <= to; k++) out[p + k * stride] = wanted;
  }
  return out;
}

/** Still places that do not hang together with the border belong to what is around them. */
function fillHoles(places: Uint8Array, width: number, height: number): Uint8Array {
  const still = Uint8Array.from(places, (place) => Number(!place));
  const border = new Uint8Array(places.length);
  for (let x = 0; x < width; x++) {
    border[x] = still[x];
    border[(height - 1) * width + x] = still[(height - 1) * width + x];
  }
  for (let y = 0; y < height; y++) {
    border[y * width] = still[y * width];
    border[y * width + width - 1] = still[y * width + width - 1];
  }
  const outside = spreadWithin(border, still, width, height);
  return Uint8Array.from(outside, (place) => Number(!place));
}

function labelParts(moving: Uint8Array, spread: Float32Array, width: number, height: number): MotionMap {
  const found: { places: number[]; spread: number }[] = [];
  const seen = new Uint8Array(moving.length);
  for (let p = 0; p < moving.length; p++) {
    if (!moving[p] || seen[p]) continue;
    const seed = new Uint8Array(moving.length);
    seed[p] = 1;
    const part = spreadWithin(seed, moving, width, height);
    const places: number[] = [];
    let sum = 0;
    for (let q = p; q < part.length; q++) {
      if (!part[q]) continue;
      seen[q] = 1;
      places.push(q);
      sum += spread[q];
    }
    if (places.length >= CRUMB * moving.length) found.push({ places, spread: sum / places.length });
  }
  found.sort((a, b) => b.places.length - a.places.length);
  const labels = new Uint8Array(moving.length);
  const parts = found.slice(0, MOST_PARTS).map((part, i) => {
    for (const place of part.places) labels[place] = i + 1;
    return { label: i + 1, area: part.places.length, spread: part.spread };
  });
  return { width, height, labels, parts };
}
