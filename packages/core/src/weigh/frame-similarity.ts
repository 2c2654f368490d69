import type { PixelFrame } from '../pixels/index.js';
import { type LumaChroma, toLumaChroma } from './luma.js';
import { structuralSimilarity, windowSimilarity } from './structural-similarity.js';

/** How much luma and the two colour differences count; their sum is 8. */
const WEIGHTS = [6, 1, 1];
const CHANNELS = 3;
/** Sums over one 4×4 block and channel: of a, of b, of a² + b², of ab. */
const SUMS = 4;

/** Reference implementation: SSIM of each plane, luma and the two colour differences weighted 6:1:1. */
export function similarityOfPlanes(ref: LumaChroma, out: LumaChroma, width: number, height: number): number {
  const luma = structuralSimilarity(ref.luma, out.luma, width, height);
  const blue = structuralSimilarity(ref.blueDifference, out.blueDifference, width, height);
  const red = structuralSimilarity(ref.redDifference, out.redDifference, width, height);
  return (WEIGHTS[0] * luma + WEIGHTS[1] * blue + WEIGHTS[2] * red) / 8;
}

/** The same straight from the pixels, block by block, without planes between: four times as fast. */
export function frameSimilarity(ref: PixelFrame, out: PixelFrame): number {
  const { width, height } = ref;
  if (width < 8 || height < 8) return similarityOfPlanes(toLumaChroma(ref), toLumaChroma(out), width, height);
  const across = width >> 2;
  const down = height >> 2;
  const step = SUMS * CHANNELS;
  let above = new Float64Array(across * step);
  let here = new Float64Array(across * step);
  const sums = new Float64Array(SUMS);
  const totals = [0, 0, 0];
  for (let blockRow = 0; blockRow < down; blockRow++) {
    sumBlocks(ref.rgba, out.rgba, width, blockRow * 4, across, here);
    for (let x = 1; blockRow > 0 && x < across; x++) {
      for (let c = 0; c < CHANNELS; c++) {
        const i = x * step + c * SUMS;
        for (let k = 0; k < SUMS; k++) {
          sums[k] = above[i - step + k] + above[i + k] + here[i - step + k] + here[i + k];
        }
        totals[c] += windowSimilarity(sums, 64);
      }
    }
    [above, here] = [here, above];
  }
  const windows = (across - 1) * (down - 1);
  return totals.reduce((sum, total, c) => sum + (WEIGHTS[c] * total) / windows, 0) / 8;
}

function sumBlocks(
  a: Uint8Array,
  b: Uint8Array,
  width: number,
  top: number,
  across: number,
  out: Float64Array,
): void {
  out.fill(0);
  for (let y = top; y < top + 4; y++) {
    let at = y * width * 4;
    for (let block = 0, i = 0; block < across; block++, i += SUMS * CHANNELS) {
      let lumaA = 0;
      let lumaB = 0;
      let lumaSquares = 0;
      let lumaProduct = 0;
      let blueA = 0;
      let blueB = 0;
      let blueSquares = 0;
      let blueProduct = 0;
      let redA = 0;
      let redB = 0;
      let redSquares = 0;
      let redProduct = 0;
      for (const end = at + 16; at < end; at += 4) {
        const ya = 0.299 * a[at] + 0.587 * a[at + 1] + 0.114 * a[at + 2];
        const yb = 0.299 * b[at] + 0.587 * b[at + 1] + 0.114 * b[at + 2];
        const ua = (a[at + 2] - ya) * 0.564 + 128;
        const ub = (b[at + 2] - yb) * 0.564 + 128;
        const va = (a[at] - ya) * 0.713 + 128;
        const vb = (b[at] - yb) * 0.713 + 128;
        lumaA += ya;
        lumaB += yb;
        lumaSquares += ya * ya + yb * yb;
        lumaProduct += ya * yb;
        blueA += ua;
        blueB += ub;
        blueSquares += ua * ua + ub * ub;
        blueProduct += ua * ub;
        redA += va;
        redB += vb;
        redSquares += va * va + vb * vb;
        redProduct += va * vb;
      }
      out[i] += lumaA;
      out[i + 1] += lumaB;
      out[i + 2] += lumaSquares;
      out[i + 3] += lumaProduct;
      out[i + 4] += blueA;
      out[i + 5] += blueB;
      out[i + 6] += blueSquares;
      out[i + 7] += blueProduct;
      out[i + 8] += redA;
      out[i + 9] += redB;
      out[i + 10] += redSquares;
      out[i + 11] += redProduct;
    }
  }
}
