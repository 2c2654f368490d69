import type { LumaPicture } from '../luma-picture.js';
import type { FlowField } from './flow-field.js';
import { gradientsOf } from './planes.js';

export interface PatchSearch {
  /** Side of a patch, px. */
  readonly patch: number;
  /** From one patch to the next, px. */
  readonly stride: number;
  /** Steps of descent, at most. */
  readonly iterations: number;
}

/** Added to the diagonal of a patch's matrix for each pixel, so that flat patches stay where they are. */
const FLAT = 0.5;
/** Displacements nearer to each other than this are one, px. */
const SAME = 0.1;
/** A descent ends with a step this small, px². */
const AT_REST = 0.0004;

/**
 * Where patches of the first picture lie in the second: inverse search from the given field and from what
 * neighbouring patches found, forwards and then backwards over the picture. Pixels take the mean of the patches
 * that cover them, weighted by how well those fit there.
 * Source: Kroeger, Timofte, Dai and Van Gool, ECCV 2016; propagation as in PatchMatch (Barnes et al., 2009).
 * @param also a second field to try, such as that of the frames before.
 */
export function searchPatches(
  a: LumaPicture,
  b: LumaPicture,
  from: FlowField,
  how: PatchSearch,
  also: FlowField | null,
): FlowField {
  const search = new Search(a, b, how);
  search.sweep(from, null, 1);
  search.sweep(from, also, -1);
  return search.spread();
}

class Search {
  private readonly side: number;
  private readonly stride: number;
  private readonly columns: number;
  private readonly rows: number;
  private readonly u: Float32Array;
  private readonly v: Float32Array;
  private readonly errors: Float32Array;
  private readonly across: Float32Array;
  private readonly down: Float32Array;
  /** Differences of the patch that was compared last, their mean taken out. */
  private readonly differences: Float32Array;

  constructor(
    private readonly a: LumaPicture,
    private readonly b: LumaPicture,
    private readonly how: PatchSearch,
  ) {
    const { width, height } = a;
    this.side = Math.min(how.patch, width, height);
    // In a picture smaller than a patch, patches still lie over all of it.
    this.stride = Math.min(how.stride, Math.ceil(this.side / 2));
    this.columns = Math.ceil((width - this.side) / this.stride) + 1;
    this.rows = Math.ceil((height - this.side) / this.stride) + 1;
    const patches = this.columns * this.rows;
    this.u = new Float32Array(patches);
    this.v = new Float32Array(patches);
    this.errors = new Float32Array(patches);
    ({ across: this.across, down: this.down } = gradientsOf(a));
    this.differences = new Float32Array(this.side * this.side);
  }

  /** @param way 1 goes forwards, from the given field; −1 backwards, from what the first sweep found. */
  sweep(from: FlowField, also: FlowField | null, way: 1 | -1): void {
    const patches = this.columns * this.rows;
    for (let i = 0; i < patches; i++) this.placePatch(way === 1 ? i : patches - 1 - i, from, also, way);
  }

  private placePatch(at: number, from: FlowField, also: FlowField | null, way: 1 | -1): void {
    const { width } = this.a;
    const column = at % this.columns;
    const row = (at - column) / this.columns;
    const left = this.leftOf(column);
    const top = this.topOf(row);
    const half = this.side >> 1;
    const middle = (top + half) * width + left + half;
    let [u, v] = way === 1 ? [from.u[middle], from.v[middle]] : [this.u[at], this.v[at]];
    let error = way === 1 ? this.compare(left, top, u, v) : this.errors[at];
    const tryAt = (otherU: number, otherV: number) => {
      if (Math.abs(otherU - u) + Math.abs(otherV - v) < SAME) return;
      const otherError = this.compare(left, top, otherU, otherV);
      if (otherError < error) [error, u, v] = [otherError, otherU, otherV];
    };
    if (also) tryAt(also.u[middle], also.v[middle]);
    const beside = column - way;
    if (beside >= 0 && beside < this.columns) tryAt(this.u[at - way], this.v[at - way]);
    const beyond = row - way;
    const neighbour = at - way * this.columns;
    if (beyond >= 0 && beyond < this.rows) tryAt(this.u[neighbour], this.v[neighbour]);
    this.descend(at, left, top, u, v, error);
  }

  /** Gauss–Newton steps on the squared differences, the template’s gradients worked out once. */
  private descend(at: number, left: number, top: number, u0: number, v0: number, error0: number): void {
    const { inverseXX, inverseXY, inverseYY } = this.inverseMatrix(left, top);
    let [u, v] = [u0, v0];
    let error = this.compare(left, top, u, v);
    for (let i = 0; i < this.how.iterations; i++) {
      const { x, y } = this.slopeOfDifferences(left, top);
      const du = inverseXX * x + inverseXY * y;
      const dv = inverseXY * x + inverseYY * y;
      const next = this.compare(left, top, u - du, v - dv);
      if (next >= error) break;
      [u, v, error] = [u - du, v - dv, next];
      if (du * du + dv * dv < AT_REST) break;
    }
    // What has run away has lost its patch.
    const isLost = Math.hypot(u - u0, v - v0) > this.side;
    this.u[at] = isLost ? u0 : u;
    this.v[at] = isLost ? v0 : v;
    this.errors[at] = isLost ? error0 : error;
  }

  private inverseMatrix(left: number, top: number) {
    const { side, across, down } = this;
    const count = side * side;
    let [xx, xy, yy, sumX, sumY] = [0, 0, 0, 0, 0];
    for (let y = 0; y < side; y++) {
      for (let x = 0, p = (top + y) * this.a.width + left; x < side; x++, p++) {
        xx += across[p] * across[p];
        xy += across[p] * down[p];
        yy += down[p] * down[p];
        sumX += across[p];
        sumY += down[p];
      }
    }
    xx += FLAT * count - (sumX * sumX) / count;
    yy += FLAT * count - (sumY * sumY) / count;
    xy -= (sumX * sumY) / count;
    const determinant = xx * yy - xy * xy;
    return { inverseXX: yy / determinant, inverseXY: -xy / determinant, inverseYY: xx / determinant };
  }

  private slopeOfDifferences(left: number, top: number): { readonly x: number; readonly y: number } {
    const { side, across, down, differences } = this;
    let [slopeX, slopeY] = [0, 0];
    for (let y = 0, i = 0; y < side; y++) {
      for (let x = 0, p = (top + y) * this.a.width + left; x < side; x++, p++, i++) {
        slopeX += across[p] * differences[i];
        slopeY += down[p] * differences[i];
      }
    }
    return { x: slopeX, y: slopeY };
  }

  /** Compares the patch with the second picture at a displacement. @returns the sum of squared differences. */
  private compare(left: number, top: number, u: number, v: number): number {
    const { side, differences } = this;
    const { width, height, values: a } = this.a;
    const { values: b } = this.b;
    // A patch may leave the picture by half of its side; there the border is repeated.
    const atX = Math.max(-side / 2, Math.min(width - side / 2 - 1, left + u));
    const atY = Math.max(-side / 2, Math.min(height - side / 2 - 1, top + v));
    const [firstX, firstY] = [Math.floor(atX), Math.floor(atY)];
    const [over, below] = [atX - firstX, atY - firstY];
    const [w00, w01] = [(1 - over) * (1 - below), over * (1 - below)];
    const [w10, w11] = [(1 - over) * below, over * below];
    const isInside = firstX >= 0 && firstY >= 0 && firstX + side < width && firstY + side < height;
    let sum = 0;
    for (let y = 0, i = 0; y < side; y++) {
      const inA = (top + y) * width + left;
      const upper = inside(firstY + y, height) * width;
      const lower = inside(firstY + y + 1, height) * width;
      for (let x = 0; x < side; x++, i++) {
        const here = isInside ? firstX + x : inside(firstX + x, width);
        const next = isInside ? here + 1 : inside(firstX + x + 1, width);
        const inB =
          w00 * b[upper + here] + w01 * b[upper + next] + w10 * b[lower + here] + w11 * b[lower + next];
        const difference = inB - a[inA + x];
        differences[i] = difference;
        sum += difference;
      }
    }
    const mean = sum / differences.length;
    let squares = 0;
    for (let i = 0; i < differences.length; i++) {
      differences[i] -= mean;
      squares += differences[i] * differences[i];
    }
    return squares;
  }

  /** The field of all pixels. */
  spread(): FlowField {
    const { width, height } = this.a;
    const u = new Float32Array(width * height);
    const v = new Float32Array(width * height);
    const total = new Float32Array(width * height);
    for (let at = 0; at < this.u.length; at++) {
      const column = at % this.columns;
      const left = this.leftOf(column);
      const top = this.topOf((at - column) / this.columns);
      this.compare(left, top, this.u[at], this.v[at]);
      for (let y = 0, i = 0; y < this.side; y++) {
        for (let x = 0, p = (top + y) * width + left; x < this.side; x++, p++, i++) {
          const weight = 1 / Math.max(1, Math.abs(this.differences[i]));
          u[p] += weight * this.u[at];
          v[p] += weight * this.v[at];
          total[p] += weight;
        }
      }
    }
    for (let p = 0; p < total.length; p++) {
      u[p] /= total[p];
      v[p] /= total[p];
    }
    return { width, height, u, v };
  }

  private leftOf(column: number): number {
    return Math.min(this.a.width - this.side, column * this.stride);
  }

  private topOf(row: number): number {
    return Math.min(this.a.height - this.side, row * this.stride);
  }
}

function inside(place: number, count: number): number {
  return place < 0 ? 0 : place >= count ? count - 1 : place;
}
