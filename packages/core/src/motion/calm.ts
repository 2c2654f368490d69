import { fitSpan, type Span } from '../timing/index.js';

/** Activity of a whole take, one value a frame: the change from the frame before; 0 for the first. */
export interface ActivitySeries {
  readonly moves: ArrayLike<number>;
  /** Pixels of the frame. */
  readonly shiftX: ArrayLike<number>;
  readonly shiftY: ArrayLike<number>;
  /** Levels. */
  readonly light: ArrayLike<number>;
}

/**
 * A camera that strays this far, in pixels, is as unrestful as light that strays by UNRESTFUL_LIGHT levels.
 */
const UNRESTFUL_SHIFT = 1;
const UNRESTFUL_LIGHT = 2;
/** Frames looked at on each side for the calm at one moment. */
const NEIGHBOURS = 6;

/** How still camera and light are around a frame, 0–100. */
export function calmAt(series: ActivitySeries, frame: number): number {
  const from = Math.max(0, frame - NEIGHBOURS);
  const to = Math.min(series.moves.length, frame + NEIGHBOURS + 1);
  return 100 / (1 + unrestOf(pathOf(series, from, to), 0, to - from) ** 2);
}

/**
 * The span of the given length in which camera and light stray least from their mean.
 * @param holding only spans that hold this frame; all, if it is not given.
 * @returns the earliest of equals; null when the take is shorter.
 */
export function calmestSpan(series: ActivitySeries, length: number, holding?: number): Span | null {
  const frames = series.moves.length;
  if (length < 1 || length > frames) return null;
  const path = pathOf(series, 0, frames);
  const first = holding === undefined ? 0 : Math.max(0, holding - length + 1);
  const last = Math.min(frames - length, holding ?? frames);
  let best = first;
  let least = Number.POSITIVE_INFINITY;
  for (let start = first; start <= last; start++) {
    const unrest = unrestOf(path, start, start + length);
    if (unrest >= least - 1e-9) continue;
    least = unrest;
    best = start;
  }
  return { start: best, end: best + length };
}

/** Running sums of where camera and light are, so that the spread over any stretch takes no loop. */
interface Path {
  readonly sums: Float64Array;
  readonly squares: Float64Array;
}

const AXES = 3;

function pathOf({ shiftX, shiftY, light }: ActivitySeries, from: number, to: number): Path {
  const count = to - from;
  const sums = new Float64Array((count + 1) * AXES);
  const squares = new Float64Array((count + 1) * AXES);
  const at = [0, 0, 0];
  for (let i = 0; i < count; i++) {
    if (i > 0) {
      at[0] += shiftX[from + i] / UNRESTFUL_SHIFT;
      at[1] += shiftY[from + i] / UNRESTFUL_SHIFT;
      at[2] += light[from + i] / UNRESTFUL_LIGHT;
    }
    for (let axis = 0; axis < AXES; axis++) {
      const k = i * AXES + axis;
      sums[k + AXES] = sums[k] + at[axis];
      squares[k + AXES] = squares[k] + at[axis] ** 2;
    }
  }
  return { sums, squares };
}

/** The root mean square by which camera and light stray from their mean between two boundaries. */
function unrestOf({ sums, squares }: Path, from: number, to: number): number {
  let variance = 0;
  for (let axis = 0; axis < AXES; axis++) {
    const sum = sums[to * AXES + axis] - sums[from * AXES + axis];
    const square = squares[to * AXES + axis] - squares[from * AXES + axis];
    variance += Math.max(0, square / (to - from) - (sum / (to - from)) ** 2);
  }
  return Math.sqrt(variance);
}

/** Something that moves less than this share of what usually moves is at rest. */
const REST_SHARE = 0.18;

/**
 * The span from a frame to where what moves comes to rest, for at least `restFrames`; to the end of the take
 * where it never does. Where nothing moves at the frame, to the end of the next movement.
 */
export function spanToRest(series: ActivitySeries, start: number, restFrames: number): Span {
  const frames = series.moves.length;
  const usual = percentile(series.moves, 0.8);
  const rests = (frame: number) => series.moves[frame] <= usual * REST_SHARE;
  let frame = start + 1;
  while (frame < frames && rests(frame)) frame++;
  for (let still = 0; frame < frames; frame++) {
    still = rests(frame) ? still + 1 : 0;
    if (still === restFrames) return fitSpan({ start, end: frame - restFrames + 1 }, frames);
  }
  return { start, end: frames };
}

function percentile(values: ArrayLike<number>, share: number): number {
  const sorted = Float64Array.from(values).sort();
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;
}
