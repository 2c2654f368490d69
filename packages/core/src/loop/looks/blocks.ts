import type { Size } from '../../pixels/index.js';

/** Square blocks over a picture, row by row; those at the right and lower edge may be cut off. */
export interface Blocks {
  readonly columns: number;
  readonly rows: number;
  /** One a block. */
  readonly values: Float32Array;
}

/** The mean of a plane in each block. @param side of a block, px. */
export function blockMeans(plane: Float32Array, { width, height }: Size, side: number): Blocks {
  const columns = Math.ceil(width / side);
  const rows = Math.ceil(height / side);
  const values = new Float32Array(columns * rows);
  let p = 0;
  for (let y = 0; y < height; y++) {
    const row = Math.floor(y / side) * columns;
    for (let column = 0; column < columns; column++) {
      let sum = 0;
      for (const end = p + Math.min(side, width - column * side); p < end; p++) sum += plane[p];
      values[row + column] += sum;
    }
  }
  for (let row = 0; row < rows; row++) {
    const high = Math.min(side, height - row * side);
    for (let column = 0; column < columns; column++) {
      values[row * columns + column] /= high * Math.min(side, width - column * side);
    }
  }
  return { columns, rows, values };
}

/** The mean of the largest values: of a share of them, but of so many at least, what is missing counted as 0. */
export function meanOfLargest(values: Float32Array, share: number, least: number): number {
  const many = Math.max(least, Math.round(share * values.length));
  const largest = Float32Array.from(values).sort().reverse().subarray(0, many);
  return largest.reduce((sum, value) => sum + Math.max(0, value), 0) / many;
}
