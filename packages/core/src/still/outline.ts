import { createMask, type Mask } from './mask.js';

/** A point of an outline, in shares of the picture's width and height. */
export interface OutlinePoint {
  readonly x: number;
  readonly y: number;
  /** The line bends through a smooth point and breaks at a corner. */
  readonly smooth: boolean;
}

/** A closed line: what lies inside is added to what moves, or taken away. */
export interface Outline {
  readonly points: readonly OutlinePoint[];
  readonly adds: boolean;
}

/** Pieces that a bend between two points is drawn with. */
const PIECES = 16;
/** Lines drawn per row of pixels: the edge's steps are this much finer. */
const FINE = 4;

/**
 * The closed line as a polygon in pixels: centripetal enough bends (Catmull–Rom), straight towards corners.
 */
export function flattenOutline({ points }: Outline, width: number, height: number): [x: number, y: number][] {
  const count = points.length;
  const at = (i: number): readonly [number, number] => {
    const { x, y } = points[(i + count) % count];
    return [x * width, y * height];
  };
  const line: [number, number][] = [];
  for (let i = 0; i < count; i++) {
    const [a, b] = [at(i), at(i + 1)];
    const [isBent, isBentNext] = [points[i].smooth, points[(i + 1) % count].smooth];
    line.push([a[0], a[1]]);
    if (!isBent && !isBentNext) continue;
    // A corner has no direction of its own: the bend leaves it straight towards its neighbour.
    const out = isBent ? tangent(at(i - 1), b) : tangent(a, b);
    const into = isBentNext ? tangent(a, at(i + 2)) : tangent(a, b);
    for (let k = 1; k < PIECES; k++) line.push(hermite(a, b, out, into, k / PIECES));
  }
  return line;
}

type Point = readonly [number, number];

function tangent(from: Point, to: Point): Point {
  return [(to[0] - from[0]) / 2, (to[1] - from[1]) / 2];
}

function hermite(a: Point, b: Point, out: Point, into: Point, t: number): [number, number] {
  const [t2, t3] = [t * t, t * t * t];
  const value = (axis: 0 | 1) =>
    (2 * t3 - 3 * t2 + 1) * a[axis] +
    (t3 - 2 * t2 + t) * out[axis] +
    (3 * t2 - 2 * t3) * b[axis] +
    (t3 - t2) * into[axis];
  return [value(0), value(1)];
}

/** The inside of a closed line as a mask, its edge covered in part (even–odd rule). */
export function rasterOutline(outline: Outline, width: number, height: number): Mask {
  const mask = createMask(width, height);
  const line = flattenOutline(outline, width, height);
  const covered = new Float32Array(width);
  for (let y = 0; y < height; y++) {
    covered.fill(0);
    for (let k = 0; k < FINE; k++) fillLine(crossings(line, y + (k + 0.5) / FINE), covered);
    for (let x = 0; x < width; x++) mask.values[y * width + x] = Math.round((255 * covered[x]) / FINE);
  }
  return mask;
}

/** Where a horizontal line meets the polygon, ascending. */
function crossings(line: readonly Point[], y: number): number[] {
  const found: number[] = [];
  for (const [i, [ax, ay]] of line.entries()) {
    const [bx, by] = line[(i + 1) % line.length];
    if (ay <= y !== by <= y) found.push(ax + ((y - ay) / (by - ay)) * (bx - ax));
  }
  return found.sort((a, b) => a - b);
}

/** Adds what lies between each first and second crossing, by the share of each pixel. */
function fillLine(found: readonly number[], covered: Float32Array): void {
  for (let i = 0; i + 1 < found.length; i += 2) {
    const from = Math.max(0, found[i]);
    const to = Math.min(covered.length, found[i + 1]);
    for (let x = Math.floor(from); x < to; x++) covered[x] += Math.min(to, x + 1) - Math.max(from, x);
  }
}
