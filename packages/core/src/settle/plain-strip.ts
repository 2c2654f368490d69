import { Segmenter } from './segment-series.js';
import { GROUP, PASSES, type SettleStrip, type StripWork, stepCost } from './strip-work.js';

/**
 * Settles a strip: first each pixel by itself, then again with its neighbours' cuts known. Reference
 * implementation of the kernel, used where there is no WebAssembly with SIMD.
 */
export function createPlainStrip(work: StripWork): SettleStrip {
  const { frames, durations, masking, width, mostRows, price, costs } = work;
  const { neighbours } = costs;
  const count = frames.length;
  const segmenter = new Segmenter(frames.map((frame) => frame.rgba));
  const groups = Math.ceil(width / GROUP);
  /** Where a cut can pay: a byte for each frame of each group in turn. */
  const candidates = new Uint8Array(count * groups * mostRows);
  const flags = createBeginFlags(count, width, mostRows);
  const prices = new Float64Array(count);

  /**
   * Decides where the segments of one pixel begin. `around` are the neighbours that begin one, frame by
   * frame.
   */
  function decide(pixel: number, base: number, around: Uint8Array | null): boolean {
    const own = price * masking[pixel] ** 2;
    segmenter.load(pixel);
    for (let f = 1; f < count; f++) {
      prices[f] = around ? own * neighbours[around[f]] * stepCost(costs, segmenter.lumaStep(f)) : own;
    }
    return segmenter.cut(candidates, base, prices);
  }

  const around = Array.from({ length: GROUP }, () => new Uint8Array(count));
  return (top, rows) => {
    candidates.fill(0);
    flags.clear();
    for (let pass = 0; pass < PASSES; pass++) {
      for (let y = 0, base = 0; y < rows; y++) {
        for (let x = 0; x < width; x += GROUP, base += count) {
          const size = Math.min(GROUP, width - x);
          const pixel = (top + y) * width + x;
          for (let k = 0; k < size; k++) {
            if (pass > 0) flags.countAround(x + k, y, rows, around[k]);
            else {
              segmenter.load(pixel + k);
              segmenter.findCandidates(price * masking[pixel + k] ** 2, costs.candidates, candidates, base);
            }
          }
          for (let k = 0; k < size; k++) {
            const isCut = decide(pixel + k, base, pass > 0 ? around[k] : null);
            flags.forget(x + k, y);
            if (isCut) segmenter.mark(flags.planes, y * width + x + k);
            if (pass === PASSES - 1) segmenter.write(durations, pixel + k);
          }
        }
      }
    }
  };
}

/** Which pixels of a strip begin a segment, frame by frame. */
function createBeginFlags(count: number, width: number, mostRows: number) {
  const planes = Array.from({ length: count }, () => new Uint8Array(width * mostRows));
  return {
    planes,
    clear() {
      for (const plane of planes) plane.fill(0);
    },
    forget(x: number, y: number) {
      for (const plane of planes) plane[y * width + x] = 0;
    },
    /** Counts the eight neighbours that begin a segment at each frame; beyond the strip there are none. */
    countAround(x: number, y: number, rows: number, out: Uint8Array) {
      const left = Math.max(0, x - 1);
      const right = Math.min(width - 1, x + 1);
      for (let f = 1; f < count; f++) {
        const plane = planes[f];
        let sum = -plane[y * width + x];
        for (let row = Math.max(0, y - 1); row <= Math.min(rows - 1, y + 1); row++) {
          for (let q = row * width + left; q <= row * width + right; q++) sum += plane[q];
        }
        out[f] = sum;
      }
    },
  };
}
