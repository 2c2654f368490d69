import { type Size, sizeWithin } from '../pixels/index.js';

/** Luma in levels, row-major (BT.601 weights). */
export interface LumaPicture extends Size {
  readonly values: Float32Array;
}

/** Size in which frames are aligned and looked at for movement: the longer side of a picture, px. */
export const ALIGN_SIDE = 320;

/** The size a picture is looked at in for alignment: its own shape, never enlarged. */
export function alignSize(size: Size): Size {
  return sizeWithin(size, ALIGN_SIDE);
}

/** What blue and red are apart from luma is times these (BT.601, Cb and Cr). */
export const CHROMA_SCALE = { blue: 0.564, red: 0.713 };

/** Weights of the channels in 256ths. */
const [RED, GREEN, BLUE] = [77, 150, 29];

/** Luma of RGBA8 pixels, each target pixel the mean of what it covers. */
export function lumaOf(rgba: Uint8Array, from: Size, to: Size): LumaPicture {
  const sums = new Uint32Array(to.width * to.height);
  const columns = startsOf(from.width, to.width);
  const rows = startsOf(from.height, to.height);
  for (let row = 0; row < to.height; row++) {
    const at = row * to.width;
    for (let y = rows[row]; y < rows[row + 1]; y++) {
      let i = y * from.width * 4;
      for (let column = 0; column < to.width; column++) {
        let [red, green, blue] = [0, 0, 0];
        for (const end = y * from.width * 4 + columns[column + 1] * 4; i < end; i += 4) {
          red += rgba[i];
          green += rgba[i + 1];
          blue += rgba[i + 2];
        }
        sums[at + column] += RED * red + GREEN * green + BLUE * blue;
      }
    }
  }
  const values = new Float32Array(sums.length);
  for (let y = 0, p = 0; y < to.height; y++) {
    for (let x = 0; x < to.width; x++, p++) {
      const covered = (rows[y + 1] - rows[y]) * (columns[x + 1] - columns[x]);
      values[p] = sums[p] / (256 * Math.max(1, covered));
    }
  }
  return { width: to.width, height: to.height, values };
}

/** Where each target begins among the sources, and where the last one ends. */
function startsOf(sources: number, targets: number): Int32Array {
  return Int32Array.from({ length: targets + 1 }, (_, target) => Math.ceil((target * sources) / targets));
}

/** Half the size, each pixel the mean of four; an odd last row or column is left out. */
export function halved({ width, height, values }: LumaPicture): LumaPicture {
  const half = { width: Math.max(1, width >> 1), height: Math.max(1, height >> 1) };
  const out = new Float32Array(half.width * half.height);
  for (let y = 0; y < half.height; y++) {
    for (let x = 0; x < half.width; x++) {
      const p = 2 * y * width + 2 * x;
      const right = 2 * x + 1 < width ? 1 : 0;
      const down = 2 * y + 1 < height ? width : 0;
      out[y * half.width + x] =
        (values[p] + values[p + right] + values[p + down] + values[p + right + down]) / 4;
    }
  }
  return { ...half, values: out };
}

/** Softened by a 3 × 3 binomial: what lies near the limit of resolution shifts by leaps and would mislead. */
export function softened({ width, height, values }: LumaPicture): LumaPicture {
  const across = new Float32Array(values.length);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      const left = x > 0 ? values[p - 1] : values[p];
      const right = x < width - 1 ? values[p + 1] : values[p];
      across[p] = (left + 2 * values[p] + right) / 4;
    }
  }
  const out = new Float32Array(values.length);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      const above = y > 0 ? across[p - width] : across[p];
      const below = y < height - 1 ? across[p + width] : across[p];
      out[p] = (above + 2 * across[p] + below) / 4;
    }
  }
  return { width, height, values: out };
}
