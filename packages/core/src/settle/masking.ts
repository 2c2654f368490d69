import type { PixelFrame } from '../pixels/index.js';

/** Side of the squares in which texture is measured, px. */
const SIDE = 8;
/** Frames looked at, spread over the reel. */
const MOMENTS = 6;
/** Luma variance at which texture begins to hide change, squared levels. */
const KNEE = 120;
/** The largest factor. */
const MOST = 6;

/**
 * What a squared difference of colour may count beside one of light, both as toOpponent scales them: the
 * classes that pixels fall into.
 */
export const CHROMA_SHARES = [0.34, 0.544, 0.87, 1.393, 2.228, 3.565] as const;
/** The first class and the step from one to the next, as logarithms. */
const LEAST_SHARE = Math.log(CHROMA_SHARES[0]);
const CHROMA_STEP = Math.log(1.6);
/**
 * How far the share of colour follows what light and colour hide. By all of it (1) SSIM alone is served best;
 * motion error counts light only, wherever it is.
 */
const CHROMA_EXPONENT = 0.5;

/** The class of a share. */
export function chromaClassOf(share: number): number {
  return classOfLog(Math.log(share));
}

function classOfLog(share: number): number {
  const place = Math.round((share - LEAST_SHARE) / CHROMA_STEP);
  return Math.max(0, Math.min(CHROMA_SHARES.length - 1, place));
}

/** What the picture hides at each pixel, row-major. */
export interface Masking {
  /** How much change texture hides: 1 on flat ground, more where the picture is busy. */
  readonly masking: Float32Array;
  /**
   * What differences of colour count beside those of light, as a place in CHROMA_SHARES: least on flat ground,
   * more where light is busy and colour is not, as around the letters of a page.
   */
  readonly chroma: Uint8Array;
}

/**
 * Measures what is hidden. An error counts against the local variance of its plane (Wang et al. 2004, equation
 * 6: the structure term divides by it), so the same visible error allows a larger difference where there is
 * more; and a plane of colour counts a sixth of that of light.
 *
 * Works in squares of 8×8 px blended into each other.
 */
export function measureMasking(frames: readonly PixelFrame[]): Masking {
  const { width, height } = frames[0];
  const across = Math.ceil(width / SIDE);
  const down = Math.ceil(height / SIDE);
  const factors = new Float32Array(across * down);
  const shares = new Float32Array(across * down);
  const moments = Math.min(MOMENTS, frames.length);
  const variances = new Float64Array(2);
  for (let m = 0; m < moments; m++) {
    const frame = frames[Math.floor(((m + 0.5) * frames.length) / moments)];
    for (let by = 0, block = 0; by < down; by++) {
      for (let bx = 0; bx < across; bx++, block++) {
        measureVariances(frame, bx, by, variances);
        factors[block] += variances[0];
        shares[block] += variances[1];
      }
    }
  }
  for (let block = 0; block < factors.length; block++) {
    factors[block] = Math.min(MOST, Math.sqrt(1 + factors[block] / moments / KNEE));
    const hidden = factors[block] ** 2 / (1 + shares[block] / moments / KNEE);
    shares[block] = LEAST_SHARE + CHROMA_EXPONENT * Math.log(hidden);
  }
  const shareOf = spread(shares, across, down, width, height);
  const chroma = new Uint8Array(shareOf.length);
  for (let p = 0; p < chroma.length; p++) chroma[p] = classOfLog(shareOf[p]);
  return { masking: spread(factors, across, down, width, height), chroma };
}

/** Of luma, and the mean of those of the two colour differences in BT.601's scales, squared levels. */
function measureVariances(
  { rgba, width, height }: PixelFrame,
  bx: number,
  by: number,
  out: Float64Array,
): void {
  const right = Math.min(width, (bx + 1) * SIDE);
  const bottom = Math.min(height, (by + 1) * SIDE);
  let sum = 0;
  let blues = 0;
  let reds = 0;
  let squares = 0;
  let chromaSquares = 0;
  let count = 0;
  for (let y = by * SIDE; y < bottom; y++) {
    for (let x = bx * SIDE; x < right; x++, count++) {
      const at = (y * width + x) * 4;
      const luma = 0.299 * rgba[at] + 0.587 * rgba[at + 1] + 0.114 * rgba[at + 2];
      const blue = (rgba[at + 2] - luma) * 0.564;
      const red = (rgba[at] - luma) * 0.713;
      sum += luma;
      blues += blue;
      reds += red;
      squares += luma * luma;
      chromaSquares += blue * blue + red * red;
    }
  }
  out[0] = Math.max(0, squares / count - (sum / count) ** 2);
  out[1] = Math.max(0, (chromaSquares / count - (blues / count) ** 2 - (reds / count) ** 2) / 2);
}

/** Bilinear between the squares' middles. */
function spread(
  blocks: Float32Array,
  across: number,
  down: number,
  width: number,
  height: number,
): Float32Array {
  const out = new Float32Array(width * height);
  for (let y = 0, p = 0; y < height; y++) {
    const v = Math.max(0, Math.min(down - 1, (y + 0.5) / SIDE - 0.5));
    const y0 = Math.floor(v);
    const y1 = Math.min(down - 1, y0 + 1);
    const fy = v - y0;
    for (let x = 0; x < width; x++, p++) {
      const u = Math.max(0, Math.min(across - 1, (x + 0.5) / SIDE - 0.5));
      const x0 = Math.floor(u);
      const x1 = Math.min(across - 1, x0 + 1);
      const fx = u - x0;
      const above = blocks[y0 * across + x0] * (1 - fx) + blocks[y0 * across + x1] * fx;
      const below = blocks[y1 * across + x0] * (1 - fx) + blocks[y1 * across + x1] * fx;
      out[p] = above * (1 - fy) + below * fy;
    }
  }
  return out;
}
