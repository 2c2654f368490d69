import type { Size } from '../../pixels/index.js';

/** How square patches lie over a picture: in equal steps, the last of a row or column at the edge. */
export interface PatchGrid extends Size {
  /** Side of a patch, px. */
  readonly side: number;
  /** From one patch to the next, px. */
  readonly stride: number;
  readonly columns: number;
  readonly rows: number;
}

export function patchGrid({ width, height }: Size, patch: number, step: number): PatchGrid {
  const side = Math.min(patch, width, height);
  // In a picture smaller than a patch, patches still lie over all of it.
  const stride = Math.min(step, Math.ceil(side / 2));
  return {
    ...{ width, height, side, stride },
    columns: Math.ceil((width - side) / stride) + 1,
    rows: Math.ceil((height - side) / stride) + 1,
  };
}

export function leftOf({ width, side, stride }: PatchGrid, column: number): number {
  return Math.min(width - side, column * stride);
}

export function topOf({ height, side, stride }: PatchGrid, row: number): number {
  return Math.min(height - side, row * stride);
}

/** A field in the middle of each patch. */
export function atPatches(grid: PatchGrid, field: Float32Array): Float32Array {
  const half = grid.side >> 1;
  return Float32Array.from({ length: grid.columns * grid.rows }, (_, at) => {
    const column = at % grid.columns;
    const row = (at - column) / grid.columns;
    return field[(topOf(grid, row) + half) * grid.width + leftOf(grid, column) + half];
  });
}
