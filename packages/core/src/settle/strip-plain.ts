import { Segmenter } from './segment-series.js';
import { NEIGHBOUR_COST, type SettleStrip, type StripWork } from './strip-work.js';

/**
 * Settling a strip in plain TypeScript: first each pixel by itself, then again knowing what its neighbours do.
 * The reference for the kernel, and what is used where there is no WebAssembly with SIMD.
 */
export function createPlainStrip(work: StripWork): SettleStrip {
  const { frames, durations, masking, width, mostRows, price } = work;
  const count = frames.length;
  const most = width * mostRows;
  const segmenter = new Segmenter(frames.map((frame) => frame.rgba));
  /** Where a cut can pay: a byte for each frame of each pixel in turn. */
  const candidates = new Uint8Array(count * most);
  /** Per frame: 1 where the first pass begins a segment. */
  const begins = frames.map(() => new Uint8Array(most));
  /** Per frame: how many of the eight neighbours begin one. */
  const neighbours = frames.map(() => new Uint8Array(most));
  const prices = new Float64Array(count);
  const cheapest = NEIGHBOUR_COST[NEIGHBOUR_COST.length - 1];

  return (top, rows) => {
    const offset = top * width;
    const pixels = rows * width;
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
  };
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
