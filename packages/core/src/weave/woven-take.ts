import { type CellGrid, type CellSquares, gridOf, openCellSquares } from './cells.js';
import type { Planes } from './planes.js';
import { type CellStatistics, cellStatistics } from './statistics.js';

/** A take looked at cell by cell, from which weaves of any length are made. */
export interface WovenTake {
  readonly planes: Planes;
  readonly grid: CellGrid;
  readonly squares: CellSquares;
  readonly statistics: CellStatistics;
  /** The frame of the take that the first of the planes is. */
  readonly firstFrame: number;
  /** The frame of the take that still cells show. */
  readonly plateFrame: number;
}

/** Side of a cell, px of the picture that is looked at. */
export const CELL = 8;

/**
 * @param planes the frames, and behind them the plate.
 * @param firstFrame the frame of the take that the first of them is.
 */
export function lookAtCells(
  planes: Planes,
  firstFrame: number,
  plateFrame: number,
  cell: 4 | 8 = CELL,
): WovenTake {
  const grid = gridOf(planes, cell);
  return {
    planes,
    grid,
    squares: openCellSquares(planes, grid),
    statistics: cellStatistics(planes, grid),
    firstFrame,
    plateFrame,
  };
}
