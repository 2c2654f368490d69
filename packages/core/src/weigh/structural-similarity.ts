/** Stabilisers for 8-bit values (Wang et al. 2004, equation 13, K₁ = 0.01, K₂ = 0.03). */
const C1 = (0.01 * 255) ** 2;
const C2 = (0.03 * 255) ** 2;
/** Sums over one 4×4 block: of a, of b, of a² + b², of ab. */
const SUMS = 4;

/**
 * Mean structural similarity of two planes (Wang, Bovik, Sheikh & Simoncelli 2004, "Image quality
 * assessment: from error visibility to structural similarity"), over 8×8 windows every 4 px with flat
 * weights. Rows and columns beyond the last whole block of four do not count; a plane smaller than
 * 8×8 is one window.
 * @returns −1 … 1; 1 for equal planes.
 */
export function structuralSimilarity(
  a: Float32Array,
  b: Float32Array,
  width: number,
  height: number,
): number {
  if (width < 8 || height < 8) return windowSimilarity(wholeSums(a, b), a.length);
  const across = width >> 2;
  const down = height >> 2;
  let above = new Float64Array(across * SUMS);
  let here = new Float64Array(across * SUMS);
  const sums = new Float64Array(SUMS);
  let total = 0;
  for (let blockRow = 0; blockRow < down; blockRow++) {
    sumBlocks(a, b, width, blockRow * 4, across, here);
    if (blockRow > 0) {
      for (let x = 1; x < across; x++) {
        const i = x * SUMS;
        for (let k = 0; k < SUMS; k++) {
          sums[k] = above[i - SUMS + k] + above[i + k] + here[i - SUMS + k] + here[i + k];
        }
        total += windowSimilarity(sums, 64);
      }
    }
    [above, here] = [here, above];
  }
  return total / ((across - 1) * (down - 1));
}

function sumBlocks(
  a: Float32Array,
  b: Float32Array,
  width: number,
  top: number,
  across: number,
  out: Float64Array,
): void {
  for (let block = 0; block < across; block++) {
    let sumA = 0;
    let sumB = 0;
    let squares = 0;
    let product = 0;
    for (let y = top; y < top + 4; y++) {
      const from = y * width + block * 4;
      for (let p = from; p < from + 4; p++) {
        const va = a[p];
        const vb = b[p];
        sumA += va;
        sumB += vb;
        squares += va * va + vb * vb;
        product += va * vb;
      }
    }
    out[block * SUMS] = sumA;
    out[block * SUMS + 1] = sumB;
    out[block * SUMS + 2] = squares;
    out[block * SUMS + 3] = product;
  }
}

function wholeSums(a: Float32Array, b: Float32Array): Float64Array {
  const sums = new Float64Array(SUMS);
  for (let p = 0; p < a.length; p++) {
    sums[0] += a[p];
    sums[1] += b[p];
    sums[2] += a[p] * a[p] + b[p] * b[p];
    sums[3] += a[p] * b[p];
  }
  return sums;
}

/** SSIM of one window (equation 13). @param sums of a, of b, of a² + b², of ab. */
export function windowSimilarity(sums: Float64Array, count: number): number {
  const meanA = sums[0] / count;
  const meanB = sums[1] / count;
  const variances = sums[2] / count - meanA * meanA - meanB * meanB;
  const covariance = sums[3] / count - meanA * meanB;
  return (
    ((2 * meanA * meanB + C1) * (2 * covariance + C2)) /
    ((meanA * meanA + meanB * meanB + C1) * (variances + C2))
  );
}
