import { BLUE_SCALE, colourDistance, LUMA, NO_DIFFERENCE, RED_SCALE, type Rgb } from '../pixels/index.js';
import { SCALES } from './strip-work.js';

/** A segment's begin is sought among this many candidates back, besides the begin of the segment before. */
const WINDOW = 24;
/**
 * Cuts one pixel's history into segments: least sum of squared error against each segment's mean plus the
 * price of every cut (the L0-penalised piecewise constant fit; Jackson et al. 2005, "An algorithm for optimal
 * partitioning of data on an interval"), over the frames where a cut can pay. One object serves all pixels in
 * turn.
 */
export class Segmenter {
  private readonly count: number;
  /**
   * Sums over the frames before each place, of luma and the scaled colour differences (see toOpponent), and
   * of squares.
   */
  private readonly lumas: Float64Array;
  private readonly blues: Float64Array;
  private readonly reds: Float64Array;
  private readonly squares: Float64Array;
  private readonly cost: Float64Array;
  /** For each place: where the segment that ends there begins. */
  private readonly begins: Int32Array;
  private readonly places: Int32Array;
  private readonly shares: Float64Array;

  constructor(private readonly pictures: readonly Uint8Array[]) {
    const count = pictures.length;
    this.count = count;
    this.reds = new Float64Array(count + 1);
    this.lumas = new Float64Array(count + 1);
    this.blues = new Float64Array(count + 1);
    this.squares = new Float64Array(count + 1);
    this.cost = new Float64Array(count + 1);
    this.begins = new Int32Array(count + 1);
    this.places = new Int32Array(count + 1);
    this.shares = Float64Array.from({ length: count + 1 }, (_, length) => (length === 0 ? 0 : 1 / length));
  }

  /** Reads one pixel's colour in every frame. */
  load(pixel: number): void {
    const { pictures, reds, lumas, blues, squares, count } = this;
    const at = pixel * 4;
    // Counted from the first frame's colour: small numbers, no loss.
    const first = pictures[0];
    const r0 = first[at];
    const g0 = first[at + 1];
    const b0 = first[at + 2];
    let luma = 0;
    let blue = 0;
    let red = 0;
    let square = 0;
    for (let f = 0; f < count; f++) {
      const rgba = pictures[f];
      const r = rgba[at] - r0;
      const b = rgba[at + 2] - b0;
      const y = LUMA[0] * r + LUMA[1] * (rgba[at + 1] - g0) + LUMA[2] * b;
      const u = (b - y) * BLUE_SCALE;
      const v = (r - y) * RED_SCALE;
      luma += y;
      blue += u;
      red += v;
      square += y * y + u * u + v * v;
      lumas[f + 1] = luma;
      blues[f + 1] = blue;
      reds[f + 1] = red;
      squares[f + 1] = square;
    }
  }

  /**
   * Marks the frames where a cut can pay.
   * @param price of a cut, squared levels. @param shares see RedrawCosts.candidates.
   * @param flags one byte a frame from `base` on; becomes 1 for a candidate.
   */
  findCandidates(price: number, shares: readonly number[], flags: Uint8Array, base: number): void {
    const { reds, lumas, blues, squares, count } = this;
    const error =
      squares[count] -
      (reds[count] * reds[count] + lumas[count] * lumas[count] + blues[count] * blues[count]) / count;
    for (const [scale, length] of SCALES.entries()) {
      const wanted = price * shares[scale];
      // A cut saves at most the whole error.
      if (error < wanted) continue;
      // Both sides whole: the difference of their means is a second difference of the sums.
      const enough = wanted * 2 * length;
      for (let at = length; at <= count - length; at++) {
        const r = reds[at + length] - 2 * reds[at] + reds[at - length];
        const y = lumas[at + length] - 2 * lumas[at] + lumas[at - length];
        const b = blues[at + length] - 2 * blues[at] + blues[at - length];
        if (r * r + y * y + b * b >= enough) flags[base + at] = 1;
      }
      // Near the ends one side is shorter.
      for (let at = 1; at < length && at < count; at++) {
        if (this.cutGain(0, at, Math.min(count, at + length)) >= wanted) flags[base + at] = 1;
        const late = count - at;
        if (this.cutGain(Math.max(0, late - length), late, count) >= wanted) flags[base + late] = 1;
      }
      if (length * 2 > count) break;
    }
  }

  /**
   * Finds the best cuts among the candidates.
   * @param flags as findCandidates marked them.
   * @param prices what it costs to begin a segment at each frame, squared levels.
   * @returns whether there is any cut.
   */
  cut(flags: Uint8Array, base: number, prices: Float64Array): boolean {
    const { reds, lumas, blues, squares, shares, cost, begins, places, count } = this;
    let found = 0;
    for (let at = 1; at < count; at++) if (flags[base + at] === 1) places[++found] = at;
    begins[count] = 0;
    cost[count] = this.error(0, count);
    if (found === 0) return false;
    places[0] = 0;
    places[found + 1] = count;
    cost[0] = 0;
    for (let i = 1; i <= found + 1; i++) {
      const to = places[i];
      const r1 = reds[to];
      const y1 = lumas[to];
      const b1 = blues[to];
      const q1 = squares[to];
      const earliest = i > WINDOW ? i - WINDOW : 0;
      const floor = cost[places[earliest]];
      let best = Number.POSITIVE_INFINITY;
      let bestBegin = 0;
      for (let k = i - 1; k >= earliest; k--) {
        const from = places[k];
        const r = r1 - reds[from];
        const y = y1 - lumas[from];
        const b = b1 - blues[from];
        const lost = q1 - squares[from] - (r * r + y * y + b * b) * shares[to - from];
        // Earlier begins lose more, and what comes before them costs at least the floor.
        if (lost + floor >= best) break;
        const total = lost + cost[from] + (from > 0 ? prices[from] : 0);
        if (total < best) {
          best = total;
          bestBegin = from;
        }
      }
      const going = begins[places[i - 1]];
      if (i > 1 && going < places[earliest]) {
        const total = this.error(going, to) + cost[going] + (going > 0 ? prices[going] : 0);
        if (total < best) {
          best = total;
          bestBegin = going;
        }
      }
      cost[to] = best;
      begins[to] = bestBegin;
    }
    return begins[count] > 0;
  }

  /** Sets a mark in `marks[f][place]` at every frame where a segment begins, but the first. */
  mark(marks: readonly Uint8Array[], place: number): void {
    const { begins } = this;
    for (let from = begins[this.count]; from > 0; from = begins[from]) marks[from][place] = 1;
  }

  /** Writes each segment's rounded mean at the frame where it begins, and how long it lasts. */
  write(durations: readonly Uint16Array[], pixel: number): void {
    const { pictures, lumas, blues, reds, shares, begins } = this;
    const at = pixel * 4;
    const r0 = pictures[0][at] + 0.5;
    const g0 = pictures[0][at + 1] + 0.5;
    const b0 = pictures[0][at + 2] + 0.5;
    let to = this.count;
    while (to > 0) {
      const from = begins[to];
      const share = shares[to - from];
      const rgba = pictures[from];
      durations[from][pixel] = to - from;
      const luma = (lumas[to] - lumas[from]) * share;
      const redDifference = (reds[to] - reds[from]) * share;
      const blueDifference = (blues[to] - blues[from]) * share;
      let [red, green, blue] = [luma, luma, luma];
      // Rounding must not tint what is grey.
      if (Math.abs(redDifference) >= NO_DIFFERENCE || Math.abs(blueDifference) >= NO_DIFFERENCE) {
        red += redDifference / RED_SCALE;
        blue += blueDifference / BLUE_SCALE;
        green = (luma - LUMA[0] * red - LUMA[2] * blue) / LUMA[1];
      }
      rgba[at] = r0 + red;
      rgba[at + 1] = g0 + green;
      rgba[at + 2] = b0 + blue;
      to = from;
    }
  }

  /** How far the source's luma steps from the frame before to this one, levels. */
  lumaStep(frame: number): number {
    const { lumas } = this;
    return Math.abs(lumas[frame + 1] - 2 * lumas[frame] + lumas[frame - 1]);
  }

  /** What the cuts just found cost in all: squared error and prices. */
  get totalCost(): number {
    return this.cost[this.count];
  }

  /** Squared error of one segment, frames from … to − 1, against its mean. */
  private error(from: number, to: number): number {
    const r = this.reds[to] - this.reds[from];
    const y = this.lumas[to] - this.lumas[from];
    const b = this.blues[to] - this.blues[from];
    return this.squares[to] - this.squares[from] - (r * r + y * y + b * b) * this.shares[to - from];
  }

  /** What cutting the frames from … to − 1 at `at` saves. */
  private cutGain(from: number, at: number, to: number): number {
    return this.error(from, to) - this.error(from, at) - this.error(at, to);
  }
}

/**
 * The plain way, kept as the reference that the fast one is tested against: every begin is tried for every
 * end.
 * @param series the colour of each frame.
 * @returns the least total cost.
 */
export function leastCostBySearch(series: readonly Rgb[], prices: readonly number[]): number {
  const cost = [0];
  for (let to = 1; to <= series.length; to++) {
    let best = Number.POSITIVE_INFINITY;
    for (let from = 0; from < to; from++) {
      const part = series.slice(from, to);
      const mean = [0, 1, 2].map((c) => part.reduce((sum, colour) => sum + colour[c], 0) / part.length);
      const lost = part.reduce((sum, colour) => sum + colourDistance(colour, mean as unknown as Rgb), 0);
      best = Math.min(best, cost[from] + lost + (from > 0 ? prices[from] : 0));
    }
    cost.push(best);
  }
  return cost[series.length];
}
