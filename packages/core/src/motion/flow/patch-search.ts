import { growKernel, type KernelMemory, type Size, startKernel } from '../../pixels/index.js';
import type { LumaPicture } from '../luma-picture.js';
import type { FlowField } from './flow-field.js';
import { FLOW_KERNEL } from './flow-kernel.js';
import { atPatches, leftOf, type PatchGrid, patchGrid, topOf } from './patch-grid.js';
import { gradientsOf } from './planes.js';

/** Side of a patch, and from one patch to the next, px. */
const PATCH = 8;
const STRIDE = 4;
/** Steps of descent, at most. */
const ITERATIONS = 10;
/** Added to the diagonal of a patch's matrix for each pixel, so that flat patches stay where they are. */
const FLAT = 0.5;
/** Displacements nearer to each other than this are one, px. */
const SAME = 0.1;
/** A descent ends with a step this small, px². */
const AT_REST = 0.0004;
/** A patch may leave the picture by half of its side, and one pixel more is read, px. */
const MARGIN = PATCH / 2 + 1;

/**
 * Finds where patches of one picture lie in another: inverse search from the given field and from what
 * neighbouring patches found, forwards and then backwards over the picture. Pixels take the mean of the patches
 * that cover them, weighted by how well those fit there.
 * Source: Kroeger, Timofte, Dai and Van Gool, ECCV 2016; propagation as in PatchMatch (Barnes et al., 2009).
 */
export interface PatchSearch {
  /** @param also a second field to try, such as that of the frames before. */
  find(a: LumaPicture, b: LumaPicture, from: FlowField, also: FlowField | null): FlowField;
}

interface PatchKernel extends KernelMemory {
  placePatches(
    base: number,
    width: number,
    height: number,
    margin: number,
    columns: number,
    rows: number,
    stride: number,
  ): number;
  patchTable(which: number): number;
  sweepPatches(
    way: 1 | -1,
    hasAlso: boolean,
    flat: number,
    same: number,
    iterations: number,
    atRest: number,
  ): void;
  spreadPatches(): void;
}

/** The tables of the kernel, in their order. */
const TABLES = ['a', 'across', 'down', 'b', 'fromU', 'fromV', 'alsoU', 'alsoV', 'u', 'v'] as const;

/** @param plain whether no kernel is used; the results are the same. */
export function openPatchSearch(size: Size, plain = false): PatchSearch {
  const grid = patchGrid(size, PATCH, STRIDE);
  // The kernel knows whole patches only.
  const kernel = plain || grid.side < PATCH ? null : startKernel<PatchKernel>(FLOW_KERNEL);
  if (kernel) return kernelSearch(grid, kernel);
  return {
    find(a, b, from, also) {
      const search = new PlainSearch(grid, a, b);
      search.sweep(from, null, 1);
      search.sweep(from, also, -1);
      return search.spread();
    },
  };
}

function kernelSearch(grid: PatchGrid, kernel: PatchKernel): PatchSearch {
  const { width, height, columns, rows, stride } = grid;
  const base = kernel.memory.buffer.byteLength;
  growKernel(kernel, kernel.placePatches(base, width, height, MARGIN, columns, rows, stride));
  const put = (name: (typeof TABLES)[number], values: Float32Array) =>
    new Float32Array(kernel.memory.buffer, kernel.patchTable(TABLES.indexOf(name)), values.length).set(
      values,
    );
  const take = (name: (typeof TABLES)[number]) =>
    new Float32Array(kernel.memory.buffer, kernel.patchTable(TABLES.indexOf(name)), width * height).slice();
  return {
    find(a, b, from, also) {
      const gradients = gradientsOf(a);
      put('a', a.values);
      put('across', gradients.across);
      put('down', gradients.down);
      put('b', withMargin(b));
      put('fromU', atPatches(grid, from.u));
      put('fromV', atPatches(grid, from.v));
      if (also) {
        put('alsoU', atPatches(grid, also.u));
        put('alsoV', atPatches(grid, also.v));
      }
      kernel.sweepPatches(1, false, FLAT, SAME, ITERATIONS, AT_REST);
      kernel.sweepPatches(-1, also !== null, FLAT, SAME, ITERATIONS, AT_REST);
      kernel.spreadPatches();
      return { width, height, u: take('u'), v: take('v') };
    },
  };
}

/** A picture whose border is repeated outwards. */
function withMargin({ width, height, values }: LumaPicture): Float32Array {
  const pitch = width + 2 * MARGIN;
  const out = new Float32Array(pitch * (height + 2 * MARGIN));
  for (let y = 0; y < height + 2 * MARGIN; y++) {
    const from = Math.max(0, Math.min(height - 1, y - MARGIN)) * width;
    const row = out.subarray(y * pitch, (y + 1) * pitch);
    row.fill(values[from], 0, MARGIN);
    row.set(values.subarray(from, from + width), MARGIN);
    row.fill(values[from + width - 1], MARGIN + width);
  }
  return out;
}

const f = Math.fround;

/** Sums are taken in four lanes, as a vector has them. */
function sumOf(lanes: Float32Array): number {
  return f(f(lanes[0] + lanes[1]) + f(lanes[2] + lanes[3]));
}

/** Reference implementation, in single precision where the kernel is. */
class PlainSearch {
  private readonly u: Float32Array;
  private readonly v: Float32Array;
  private readonly errors: Float32Array;
  private readonly across: Float32Array;
  private readonly down: Float32Array;
  private readonly bordered: Float32Array;
  /** Differences of the patch that was compared last, their mean taken out. */
  private readonly differences: Float32Array;
  private readonly lanes = Array.from({ length: 5 }, () => new Float32Array(4));

  constructor(
    private readonly grid: PatchGrid,
    private readonly a: LumaPicture,
    b: LumaPicture,
  ) {
    const patches = grid.columns * grid.rows;
    this.u = new Float32Array(patches);
    this.v = new Float32Array(patches);
    this.errors = new Float32Array(patches);
    ({ across: this.across, down: this.down } = gradientsOf(a));
    this.bordered = withMargin(b);
    this.differences = new Float32Array(grid.side * grid.side);
  }

  /** @param way 1 goes forwards, from the given field; −1 backwards, from what the first sweep found. */
  sweep(from: FlowField, also: FlowField | null, way: 1 | -1): void {
    const { columns, rows } = this.grid;
    const [fromU, fromV] = [from.u, from.v].map((field) => atPatches(this.grid, field));
    const [alsoU, alsoV] = also ? [also.u, also.v].map((field) => atPatches(this.grid, field)) : [];
    for (let i = 0; i < columns * rows; i++) {
      const at = way === 1 ? i : columns * rows - 1 - i;
      const column = at % columns;
      const row = (at - column) / columns;
      const left = leftOf(this.grid, column);
      const top = topOf(this.grid, row);
      let [u, v] = way === 1 ? [fromU[at], fromV[at]] : [this.u[at], this.v[at]];
      let error = way === 1 ? this.compare(left, top, u, v) : this.errors[at];
      const tryAt = (otherU: number, otherV: number) => {
        if (Math.abs(otherU - u) + Math.abs(otherV - v) < SAME) return;
        const otherError = this.compare(left, top, otherU, otherV);
        if (otherError < error) [error, u, v] = [otherError, otherU, otherV];
      };
      if (alsoU && alsoV) tryAt(alsoU[at], alsoV[at]);
      const beside = column - way;
      if (beside >= 0 && beside < columns) tryAt(this.u[at - way], this.v[at - way]);
      const neighbour = at - way * columns;
      const beyond = row - way;
      if (beyond >= 0 && beyond < rows) tryAt(this.u[neighbour], this.v[neighbour]);
      this.descend(at, left, top, u, v, error);
    }
  }

  /** Gauss–Newton steps on the squared differences, the template’s gradients worked out once. */
  private descend(at: number, left: number, top: number, u0: number, v0: number, error0: number): void {
    const { inverseXX, inverseXY, inverseYY } = this.inverseMatrix(left, top);
    let [u, v] = [u0, v0];
    let error = this.compare(left, top, u, v);
    for (let i = 0; i < ITERATIONS; i++) {
      const { x, y } = this.slopeOfDifferences(left, top);
      const du = inverseXX * x + inverseXY * y;
      const dv = inverseXY * x + inverseYY * y;
      const next = this.compare(left, top, u - du, v - dv);
      if (next >= error) break;
      [u, v, error] = [u - du, v - dv, next];
      if (du * du + dv * dv < AT_REST) break;
    }
    // What has run away has lost its patch.
    const isLost = (u - u0) * (u - u0) + (v - v0) * (v - v0) > this.grid.side * this.grid.side;
    this.u[at] = isLost ? u0 : u;
    this.v[at] = isLost ? v0 : v;
    this.errors[at] = isLost ? error0 : error;
  }

  private inverseMatrix(left: number, top: number) {
    const { across, down } = this;
    const [ofXX, ofXY, ofYY, ofX, ofY] = this.lanes;
    for (const lanes of this.lanes) lanes.fill(0);
    this.eachPixel(left, top, (p, _, lane) => {
      ofXX[lane] += f(across[p] * across[p]);
      ofXY[lane] += f(across[p] * down[p]);
      ofYY[lane] += f(down[p] * down[p]);
      ofX[lane] += across[p];
      ofY[lane] += down[p];
    });
    const count = this.differences.length;
    const [sumX, sumY] = [sumOf(ofX), sumOf(ofY)];
    const xx = sumOf(ofXX) + (FLAT * count - (sumX * sumX) / count);
    const yy = sumOf(ofYY) + (FLAT * count - (sumY * sumY) / count);
    const xy = sumOf(ofXY) - (sumX * sumY) / count;
    const determinant = xx * yy - xy * xy;
    return { inverseXX: yy / determinant, inverseXY: -xy / determinant, inverseYY: xx / determinant };
  }

  private slopeOfDifferences(left: number, top: number): { readonly x: number; readonly y: number } {
    const { across, down, differences } = this;
    const [ofX, ofY] = this.lanes;
    ofX.fill(0);
    ofY.fill(0);
    this.eachPixel(left, top, (p, i, lane) => {
      ofX[lane] += f(across[p] * differences[i]);
      ofY[lane] += f(down[p] * differences[i]);
    });
    return { x: sumOf(ofX), y: sumOf(ofY) };
  }

  /** Compares the patch with the second picture at a displacement. @returns the sum of squared differences. */
  private compare(left: number, top: number, u: number, v: number): number {
    const { bordered, differences, a } = this;
    const { width, height, side } = this.grid;
    const pitch = width + 2 * MARGIN;
    const x = Math.max(-side / 2, Math.min(width - side / 2 - 1, left + u));
    const y = Math.max(-side / 2, Math.min(height - side / 2 - 1, top + v));
    const [firstX, firstY] = [Math.floor(x), Math.floor(y)];
    const [over, below] = [x - firstX, y - firstY];
    const [w00, w01] = [f((1 - over) * (1 - below)), f(over * (1 - below))];
    const [w10, w11] = [f((1 - over) * below), f(over * below)];
    const first = (firstY + MARGIN) * pitch + firstX + MARGIN;
    const [sums, squares] = this.lanes;
    sums.fill(0);
    this.eachPixel(left, top, (p, i, lane, column, row) => {
      const q = first + row * pitch + column;
      const upper = f(f(w00 * bordered[q]) + f(w01 * bordered[q + 1]));
      const lower = f(f(w10 * bordered[q + pitch]) + f(w11 * bordered[q + pitch + 1]));
      differences[i] = f(f(upper + lower) - a.values[p]);
      sums[lane] += differences[i];
    });
    const mean = f(sumOf(sums) / differences.length);
    squares.fill(0);
    for (let i = 0; i < differences.length; i++) {
      differences[i] -= mean;
      squares[i & 3] += f(differences[i] * differences[i]);
    }
    return sumOf(squares);
  }

  /** The field of all pixels. */
  spread(): FlowField {
    const { width, height, columns } = this.grid;
    const u = new Float32Array(width * height);
    const v = new Float32Array(width * height);
    const total = new Float32Array(width * height);
    for (let at = 0; at < this.u.length; at++) {
      const column = at % columns;
      const left = leftOf(this.grid, column);
      const top = topOf(this.grid, (at - column) / columns);
      this.compare(left, top, this.u[at], this.v[at]);
      this.eachPixel(left, top, (p, i) => {
        const weight = f(1 / Math.max(1, Math.abs(this.differences[i])));
        u[p] += f(weight * this.u[at]);
        v[p] += f(weight * this.v[at]);
        total[p] += weight;
      });
    }
    return { width, height, u: u.map((sum, p) => sum / total[p]), v: v.map((sum, p) => sum / total[p]) };
  }

  /** @param visit is given the pixel in the picture and in the patch, its lane, its column and row there. */
  private eachPixel(
    left: number,
    top: number,
    visit: (p: number, i: number, lane: number, column: number, row: number) => void,
  ): void {
    const { side, width } = this.grid;
    for (let row = 0, i = 0; row < side; row++) {
      const p = (top + row) * width + left;
      for (let column = 0; column < side; column++, i++) visit(p + column, i, i & 3, column, row);
    }
  }
}
