/** A line on the picture, in shares of its width and height. */
export interface SliceLine {
  readonly from: readonly [x: number, y: number];
  readonly to: readonly [x: number, y: number];
}

export const UPRIGHT: SliceLine = { from: [0.5, 0], to: [0.5, 1] };
/** A line is no shorter than this, in shares. */
const SHORTEST = 0.05;

function within(value: number): number {
  return Math.max(0, Math.min(1, value));
}

/** The line with one end elsewhere; as it was where nothing would be left of it. */
export function moveEnd(line: SliceLine, end: 'from' | 'to', x: number, y: number): SliceLine {
  const moved = { ...line, [end]: [within(x), within(y)] } as SliceLine;
  const length = Math.hypot(moved.to[0] - moved.from[0], moved.to[1] - moved.from[1]);
  return length < SHORTEST ? line : moved;
}

/** The whole line moved, as far as it stays on the picture. */
export function moveLine({ from, to }: SliceLine, dx: number, dy: number): SliceLine {
  const room = (a: number, b: number, by: number) =>
    Math.max(-Math.min(a, b), Math.min(1 - Math.max(a, b), by));
  const x = room(from[0], to[0], dx);
  const y = room(from[1], to[1], dy);
  return { from: [from[0] + x, from[1] + y], to: [to[0] + x, to[1] + y] };
}

/**
 * The row or column of a small picture in which most changes over some moments of a reel: a good line to look
 * at its joint along.
 * @param moments luma, width × height each.
 */
export function proposeLine(moments: readonly Uint8Array[], width: number, height: number): SliceLine {
  const columns = new Float64Array(width);
  const rows = new Float64Array(height);
  for (let k = 1; k < moments.length; k++) {
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const step = moments[k][y * width + x] - moments[k - 1][y * width + x];
        columns[x] += step * step;
        rows[y] += step * step;
      }
    }
  }
  const largest = (sums: Float64Array) => sums.indexOf(Math.max(...sums));
  const [column, row] = [largest(columns), largest(rows)];
  // As much a pixel of the line: a column has fewer of them.
  if (columns[column] / height >= rows[row] / width) {
    const x = (column + 0.5) / width;
    return { from: [x, 0], to: [x, 1] };
  }
  const y = (row + 0.5) / height;
  return { from: [0, y], to: [1, y] };
}
