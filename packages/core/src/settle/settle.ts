import { assertOneSize, type PixelFrame, pixelWords } from '../pixels/index.js';
import { measureMasking } from './masking.js';
import { Segmenter } from './segment-series.js';

/**
 * Every pixel's history cut into segments of constant colour.
 *
 * The colours stand in the frames themselves: where `durations[f][p] > 0`, a segment begins at frame
 * `f`, pixel `p`, and `frames[f]` holds its colour there; elsewhere the segment goes on and the
 * frame's own bytes mean nothing any more. Durations are in frames.
 */
export interface SettledReel {
  readonly frames: readonly PixelFrame[];
  readonly durations: readonly Uint16Array[];
  /** How much change the picture hides at each pixel, from 1 on flat ground upwards. */
  readonly masking: Float32Array;
}

/**
 * Rows are worked in strips of this many, each on its own, so that the result is the same however
 * many workers share the strips.
 */
export const STRIP_ROWS = 32;

/**
 * What redrawing costs when this many of the eight neighbours are redrawn too, as a share of the usual: a lone
 * pixel breaks a run of transparent ones and is dear, one among many is cheap.
 */
const NEIGHBOUR_COST = Float64Array.from([3, 2.2, 1.7, 1.3, 1, 0.85, 0.7, 0.6, 0.5]);

/**
 * Makes every pixel piecewise constant in time, so that the sum of what the eye loses and what redrawing costs is
 * least: squared error against each segment's mean (weighted by what texture hides), plus a price for every
 * redrawing. Judging by source change and never by the displayed colour keeps still areas bit-identical under
 * every dither.
 *
 * Works in place: the frames are overwritten (see SettledReel).
 * @param levels the change, in sRGB levels, that is redrawn even if it lasts for one frame only; 0 keeps all.
 * @throws RangeError for an empty reel, unequal sizes or more than 65535 frames.
 */
export function settle(frames: readonly PixelFrame[], levels: number): SettledReel {
  assertOneSize(frames);
  if (frames.length > 65535) throw new RangeError(`${frames.length} frames are too many; at most 65535.`);
  const { width, height } = frames[0];
  const durations = frames.map(() => new Uint16Array(width * height));
  const masking = measureMasking(frames);
  if (levels <= 0) {
    settleExactly(frames, durations);
    return { frames, durations, masking };
  }
  const strip: Strip = {
    segmenter: new Segmenter(frames.map((frame) => frame.rgba)),
    durations,
    masking,
    width,
    price: levels * levels,
    candidates: new Uint8Array(frames.length * width * Math.min(STRIP_ROWS, height)),
    begins: frames.map(() => new Uint8Array(width * Math.min(STRIP_ROWS, height))),
    neighbours: frames.map(() => new Uint8Array(width * Math.min(STRIP_ROWS, height))),
  };
  for (let top = 0; top < height; top += STRIP_ROWS) {
    settleStrip(strip, top * width, Math.min(STRIP_ROWS, height - top));
  }
  return { frames, durations, masking };
}

/** No tolerance: a segment ends where the colour changes at all. */
function settleExactly(frames: readonly PixelFrame[], durations: readonly Uint16Array[]): void {
  const words = frames.map(pixelWords);
  const pixels = words[0].length;
  for (let p = 0; p < pixels; p++) {
    let began = 0;
    for (let f = 1; f <= frames.length; f++) {
      if (f < frames.length && words[f][p] === words[began][p]) continue;
      durations[began][p] = f - began;
      began = f;
    }
  }
}

interface Strip {
  readonly segmenter: Segmenter;
  readonly durations: readonly Uint16Array[];
  readonly masking: Float32Array;
  readonly width: number;
  /** What redrawing one pixel costs, in squared levels. */
  readonly price: number;
  /** Where a cut can pay: a byte for each frame of each pixel in turn. */
  readonly candidates: Uint8Array;
  /** Per frame: 1 where the first pass begins a segment. */
  readonly begins: readonly Uint8Array[];
  /** Per frame: how many of the eight neighbours begin one. */
  readonly neighbours: readonly Uint8Array[];
}

/** First each pixel by itself, then again knowing what its neighbours do. */
function settleStrip(strip: Strip, offset: number, rows: number): void {
  const { segmenter, candidates, begins, neighbours, width, price, masking, durations } = strip;
  const pixels = rows * width;
  const count = begins.length;
  const prices = new Float64Array(count);
  const cheapest = NEIGHBOUR_COST[NEIGHBOUR_COST.length - 1];

  for (const flags of begins) flags.fill(0);
  candidates.fill(0);
  for (let p = 0; p < pixels; p++) {
    const own = price * masking[offset + p] ** 2;
    segmenter.load(offset + p);
    segmenter.findCandidates(own * cheapest, candidates, p * count);
    prices.fill(own);
    if (segmenter.cut(candidates, p * count, prices)) segmenter.mark(begins, p);
  }
  for (let f = 1; f < count; f++) countNeighbours(begins[f], neighbours[f], width, rows);

  for (let p = 0; p < pixels; p++) {
    const own = price * masking[offset + p] ** 2;
    for (let f = 1; f < count; f++) prices[f] = own * NEIGHBOUR_COST[neighbours[f][p]];
    segmenter.load(offset + p);
    segmenter.cut(candidates, p * count, prices);
    segmenter.write(durations, offset + p);
  }
}

/** Sums the eight neighbours of each place; beyond the strip there are none. */
function countNeighbours(flags: Uint8Array, out: Uint8Array, width: number, rows: number): void {
  for (let y = 0; y < rows; y++) {
    const top = y > 0 ? -width : 0;
    const bottom = y < rows - 1 ? width : 0;
    for (let x = 0, p = y * width; x < width; x++, p++) {
      let sum = 0;
      const from = x > 0 ? p - 1 : p;
      const to = x < width - 1 ? p + 1 : p;
      for (let q = from; q <= to; q++) {
        if (top !== 0) sum += flags[q + top];
        if (q !== p) sum += flags[q];
        if (bottom !== 0) sum += flags[q + bottom];
      }
      out[p] = sum;
    }
  }
}
