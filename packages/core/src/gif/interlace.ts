/** GIF89a, appendix E: every 8th row from 0, from 4, every 4th from 2, every 2nd from 1. */
const PASSES = [
  [0, 8],
  [4, 8],
  [2, 4],
  [1, 2],
] as const;

/** The rows of an image in the order in which they stand in its data. */
export function rowOrder(height: number, isInterlaced: boolean): number[] {
  if (!isInterlaced) return Array.from({ length: height }, (_, y) => y);
  const rows: number[] = [];
  for (const [start, step] of PASSES) for (let y = start; y < height; y += step) rows.push(y);
  return rows;
}
