import type { Size } from '../pixels/index.js';
import type { Planes } from './planes.js';

/** The picture in square cells, row by row; those at the right and lower edge may be smaller. */
export interface CellGrid extends Size {
  /** Side of a cell, px: 4 or 8. */
  readonly cell: 4 | 8;
  readonly cols: number;
  readonly rows: number;
}

export function gridOf({ width, height }: Size, cell: 4 | 8): CellGrid {
  return { width, height, cell, cols: Math.ceil(width / cell), rows: Math.ceil(height / cell) };
}

/** Chroma counts half: the eye sees less of it. */
const CHROMA_SHARE = 0.5;

/** Squared differences of frames, cell by cell. */
export interface CellSquares {
  readonly grid: CellGrid;
  /**
   * Mean squared difference of two frames in every cell, squared levels: of luma, and half that of chroma.
   * @param out cols × rows numbers from `at` on.
   */
  between(a: number, b: number, out: Float32Array, at?: number): void;
}

/** What one pixel of luma and one byte of chroma add to the mean of their cell. */
interface CellShares {
  readonly luma: Float32Array;
  readonly chroma: Float32Array;
  /** Cells across, with those that only pad. */
  readonly across: number;
}

export function openCellSquares(planes: Planes, grid: CellGrid): CellSquares {
  const shares = cellShares(planes, grid);
  const between = planes.kernel ? kernelSquares(planes, grid, shares) : plainSquares(planes, grid, shares);
  return { grid, between };
}

function cellShares({ width, height, pitch }: Planes, { cell, cols, rows }: CellGrid): CellShares {
  const across = pitch / cell;
  const luma = new Float32Array(across * rows);
  const chroma = new Float32Array(across * rows);
  const half = cell / 2;
  for (let row = 0; row < rows; row++) {
    for (let col = 0; col < cols; col++) {
      const high = Math.min(cell, height - row * cell);
      const wide = Math.min(cell, width - col * cell);
      luma[row * across + col] = 1 / (high * wide);
      const halfHigh = Math.min(half, ((height + 1) >> 1) - row * half);
      const halfWide = Math.min(half, ((width + 1) >> 1) - col * half);
      chroma[row * across + col] = CHROMA_SHARE / (halfHigh * halfWide);
    }
  }
  return { luma, chroma, across };
}

/** Reference implementation; the kernel gives the same results to the bit. */
function plainSquares(planes: Planes, grid: CellGrid, shares: CellShares): CellSquares['between'] {
  const { pitch, paddedHeight, luma, chroma } = planes;
  const { cell, cols, rows } = grid;
  const bytes = pitch * paddedHeight;
  return (a, b, out, at = 0) => {
    for (let row = 0; row < rows; row++) {
      for (let col = 0; col < cols; col++) {
        let light = 0;
        for (let y = row * cell; y < (row + 1) * cell; y++) {
          const place = y * pitch + col * cell;
          for (let x = place; x < place + cell; x++) {
            const step = luma[a * bytes + x] - luma[b * bytes + x];
            light += step * step;
          }
        }
        let colour = 0;
        for (let y = (row * cell) / 2; y < ((row + 1) * cell) / 2; y++) {
          const place = y * pitch + col * cell;
          for (let x = place; x < place + cell; x++) {
            const step = chroma[(a * bytes) / 2 + x] - chroma[(b * bytes) / 2 + x];
            colour += step * step;
          }
        }
        const share = row * shares.across + col;
        out[at + row * cols + col] =
          Math.fround(light * shares.luma[share]) + Math.fround(colour * shares.chroma[share]);
      }
    }
  };
}

function kernelSquares(planes: Planes, grid: CellGrid, shares: CellShares): CellSquares['between'] {
  const { pitch, paddedHeight, kernel } = planes;
  if (!kernel) throw new Error('There is no kernel here.');
  const { cell, cols, rows } = grid;
  const { exports, room } = kernel;
  const bytes = pitch * paddedHeight;
  const table = shares.luma.length * 4;
  return (a, b, out, at = 0) => {
    const { buffer } = exports.memory;
    // Other grids over the same planes use the same room.
    new Float32Array(buffer, room, shares.luma.length).set(shares.luma);
    new Float32Array(buffer, room + table, shares.chroma.length).set(shares.chroma);
    exports.squares(
      kernel.luma + a * bytes,
      kernel.luma + b * bytes,
      kernel.chroma + (a * bytes) / 2,
      kernel.chroma + (b * bytes) / 2,
      ...([pitch, rows, cell, room, room + table, room + 2 * table] as const),
    );
    const made = new Float32Array(buffer, room + 2 * table, shares.luma.length);
    if (shares.across === cols) {
      out.set(made.subarray(0, cols * rows), at);
      return;
    }
    for (let row = 0; row < rows; row++) {
      const from = row * shares.across;
      out.set(made.subarray(from, from + cols), at + row * cols);
    }
  };
}

/** Mean luma of one frame in every cell, levels. */
export function cellMeans(planes: Planes, { cell, cols, rows }: CellGrid, frame: number, out: Float32Array) {
  const { width, height, pitch, paddedHeight, luma } = planes;
  const at = frame * pitch * paddedHeight;
  for (let row = 0; row < rows; row++) {
    const bottom = Math.min(height, (row + 1) * cell);
    for (let col = 0; col < cols; col++) {
      const right = Math.min(width, (col + 1) * cell);
      let sum = 0;
      for (let y = row * cell; y < bottom; y++) {
        for (let p = at + y * pitch + col * cell; p < at + y * pitch + right; p++) sum += luma[p];
      }
      out[row * cols + col] = sum / ((bottom - row * cell) * (right - col * cell));
    }
  }
}

/** The mean of each cell and those around it. */
export function meanAround(values: Float32Array, { cols, rows }: CellGrid): Float32Array {
  const out = new Float32Array(values.length);
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < cols; x++) {
      let [sum, count] = [0, 0];
      for (let v = Math.max(0, y - 1); v <= Math.min(rows - 1, y + 1); v++) {
        for (let u = Math.max(0, x - 1); u <= Math.min(cols - 1, x + 1); u++) {
          sum += values[v * cols + u];
          count++;
        }
      }
      out[y * cols + x] = sum / count;
    }
  }
  return out;
}

/** The same of one cell only. */
export function cellSquare(
  planes: Planes,
  { cell, cols }: CellGrid,
  at: number,
  a: number,
  b: number,
): number {
  const { width, height, pitch, paddedHeight, luma, chroma } = planes;
  const bytes = pitch * paddedHeight;
  const [left, top] = [(at % cols) * cell, Math.floor(at / cols) * cell];
  let light = 0;
  for (let y = top; y < top + cell; y++) {
    for (let p = y * pitch + left; p < y * pitch + left + cell; p++) {
      const step = luma[a * bytes + p] - luma[b * bytes + p];
      light += step * step;
    }
  }
  let colour = 0;
  for (let y = top / 2; y < (top + cell) / 2; y++) {
    for (let p = y * pitch + left; p < y * pitch + left + cell; p++) {
      const step = chroma[(a * bytes) / 2 + p] - chroma[(b * bytes) / 2 + p];
      colour += step * step;
    }
  }
  const [high, wide] = [Math.min(cell, height - top), Math.min(cell, width - left)];
  const halves = Math.ceil(high / 2) * Math.ceil(wide / 2);
  return light / (high * wide) + (CHROMA_SHARE * colour) / halves;
}
