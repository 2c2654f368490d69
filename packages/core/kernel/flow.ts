// Optical flow, in AssemblyScript (a dialect of TypeScript) with SIMD: four pixels at a time. Relaxation:
// packages/core/src/motion/flow/relaxation.ts has the plain way and says what is done; patches:
// packages/core/src/motion/flow/patch-search.ts. Both give the same to the bit; names are the same. Built by
// `npm run make-kernel` into packages/core/src/motion/flow/flow-kernel.ts.

let width: i32 = 0;
let height: i32 = 0;
/** Bytes of a row and of a plane; a plane has an empty row above and one below. */
let pitch: usize = 0;
let plane: usize = 0;
let base: usize = 0;

/** The order of the planes, as `PLANES` in relaxation.ts; some are used twice. */
const START_U: usize = 0;
const START_V: usize = 1;
const U: usize = 2;
const V: usize = 3;
const ACROSS: usize = 4;
const DOWN: usize = 5;
const ACROSS_ACROSS: usize = 6;
const ACROSS_DOWN: usize = 7;
const DOWN_DOWN: usize = 8;
const BRIGHTNESS: usize = 9;
const ACROSS_CHANGE: usize = 10;
const DOWN_CHANGE: usize = 11;
const BOND_RIGHT: usize = 12;
const BOND_DOWN: usize = 13;
const A12: usize = 14;
const C1: usize = 15;
const C2: usize = 16;
const W1: usize = 17;
const W2: usize = 18;
const PLANES: usize = 19;

/** Lays the planes out from `at` on. @returns the first free byte. */
export function placePlanes(at: usize, columns: i32, rows: i32, rowBytes: usize): usize {
  width = columns;
  height = rows;
  pitch = rowBytes;
  plane = <usize>(rows + 2) * rowBytes;
  base = (at + 15) & ~15;
  return base + PLANES * plane;
}

/** The first byte of a plane’s first row. */
export function planeAt(which: usize): usize {
  return base + which * plane + pitch;
}

/** All bits of the lanes whose column is before `end`. */
// @ts-ignore: decorators are the language's own
@inline
function before(x: i32, end: i32): v128 {
  return i32x4.lt_s(i32x4.add(i32x4.splat(x), i32x4(0, 1, 2, 3)), i32x4.splat(end));
}

// @ts-ignore: decorators are the language's own
@inline
function squared(v: v128): v128 {
  return f32x4.mul(v, v);
}

/** The two pictures and what is made of them on the way lie where coefficients come later. */
const FIRST: usize = A12;
const SECOND: usize = C1;
const MIDDLE: usize = C2;
const DIFFERENCE: usize = W1;
const SLOW: usize = W2;

/** Central differences across and down; the border is repeated. */
function gradients(source: usize, across: usize, down: usize): void {
  const from = planeAt(source);
  const toAcross = planeAt(across);
  const toDown = planeAt(down);
  const half = f32x4.splat(0.5);
  for (let y = 0; y < height; y++) {
    const above = y > 0 ? pitch : 0;
    const below = y < height - 1 ? pitch : 0;
    for (let x = 0; x < width; x += 4) {
      const p = <usize>y * pitch + (<usize>x << 2);
      const here = v128.load(from + p);
      const right = v128.bitselect(v128.load(from + p + 4), here, before(x, width - 1));
      // Only the first column has no left neighbour.
      const left = v128.bitselect(here, v128.load(from + p - 4), before(x, 1));
      const downwards = f32x4.sub(v128.load(from + p + below), v128.load(from + p - above));
      v128.store(toAcross + p, f32x4.mul(half, f32x4.sub(right, left)));
      v128.store(toDown + p, f32x4.mul(half, downwards));
    }
  }
}

/** Derivatives of the two pictures, and their difference. */
export function differentiate(): void {
  const half = f32x4.splat(0.5);
  const first = base + pitch;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x += 4) {
      const at = first + <usize>y * pitch + (<usize>x << 2);
      const a = v128.load(at + FIRST * plane);
      const b = v128.load(at + SECOND * plane);
      v128.store(at + MIDDLE * plane, f32x4.mul(half, f32x4.add(a, b)));
      v128.store(at + DIFFERENCE * plane, f32x4.sub(b, a));
    }
  }
  gradients(MIDDLE, ACROSS, DOWN);
  gradients(ACROSS, ACROSS_ACROSS, ACROSS_DOWN);
  // What this gives across is the same as what was just found down, but for rounding.
  gradients(DOWN, BRIGHTNESS, DOWN_DOWN);
  gradients(DIFFERENCE, ACROSS_CHANGE, DOWN_CHANGE);
}

/** Takes a share of what changes slowly out of the difference. */
export function takeSlowOut(share: f32): void {
  const part = f32x4.splat(share);
  const first = base + pitch;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x += 4) {
      const at = first + <usize>y * pitch + (<usize>x << 2);
      const slow = f32x4.mul(part, v128.load(at + SLOW * plane));
      v128.store(at + BRIGHTNESS * plane, f32x4.sub(v128.load(at + DIFFERENCE * plane), slow));
    }
  }
}

/** Weights of smoothness between each pixel and its right and lower neighbour. */
export function weighSmoothness(smoothness: f32, epsilon: f32): void {
  const u = planeAt(U);
  const v = planeAt(V);
  const right = planeAt(BOND_RIGHT);
  const down = planeAt(BOND_DOWN);
  const weight = f32x4.splat(smoothness);
  const least = f32x4.splat(epsilon);
  for (let y = 0; y < height; y++) {
    const below = y < height - 1 ? pitch : 0;
    for (let x = 0; x < width; x += 4) {
      const p = <usize>y * pitch + (<usize>x << 2);
      const hasRight = before(x, width - 1);
      const uHere = v128.load(u + p);
      const vHere = v128.load(v + p);
      const uAcross = v128.and(f32x4.sub(v128.load(u + p + 4), uHere), hasRight);
      const vAcross = v128.and(f32x4.sub(v128.load(v + p + 4), vHere), hasRight);
      const uDown = f32x4.sub(v128.load(u + p + below), uHere);
      const vDown = f32x4.sub(v128.load(v + p + below), vHere);
      const bend = f32x4.add(
        f32x4.add(squared(uAcross), squared(uDown)),
        f32x4.add(squared(vAcross), squared(vDown)),
      );
      const bond = f32x4.div(weight, f32x4.sqrt(f32x4.add(bend, least)));
      v128.store(right + p, v128.and(bond, hasRight));
      v128.store(down + p, below ? v128.and(bond, before(x, width)) : f32x4.splat(0));
    }
  }
}

/** The coefficients of the relaxation, for the field as it is now. */
export function weighData(
  ofBrightness: f32,
  ofGradients: f32,
  flatness: f32,
  epsilon: f32,
  relaxation: f32,
): void {
  const one = f32x4.splat(1);
  const flat = f32x4.splat(flatness);
  const least = f32x4.splat(epsilon);
  const over = f32x4.splat(relaxation);
  const weightB = f32x4.splat(ofBrightness);
  const weightG = f32x4.splat(ofGradients);
  const first = base + pitch;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x += 4) {
      const at = first + <usize>y * pitch + (<usize>x << 2);
      const inside = before(x, width);
      const u0 = v128.load(at + START_U * plane);
      const v0 = v128.load(at + START_V * plane);
      const du = f32x4.sub(v128.load(at + U * plane), u0);
      const dv = f32x4.sub(v128.load(at + V * plane), v0);
      const gx = v128.load(at + ACROSS * plane);
      const gy = v128.load(at + DOWN * plane);
      const gt = v128.load(at + BRIGHTNESS * plane);
      const normal = f32x4.div(one, f32x4.add(f32x4.add(squared(gx), squared(gy)), flat));
      const misfit = f32x4.add(f32x4.add(gt, f32x4.mul(gx, du)), f32x4.mul(gy, dv));
      const wb = f32x4.div(
        f32x4.mul(weightB, normal),
        f32x4.sqrt(f32x4.add(f32x4.mul(normal, squared(misfit)), least)),
      );
      const xx = v128.load(at + ACROSS_ACROSS * plane);
      const xy = v128.load(at + ACROSS_DOWN * plane);
      const yy = v128.load(at + DOWN_DOWN * plane);
      const xt = v128.load(at + ACROSS_CHANGE * plane);
      const yt = v128.load(at + DOWN_CHANGE * plane);
      const normalX = f32x4.div(one, f32x4.add(f32x4.add(squared(xx), squared(xy)), flat));
      const normalY = f32x4.div(one, f32x4.add(f32x4.add(squared(xy), squared(yy)), flat));
      const misfitX = f32x4.add(f32x4.add(xt, f32x4.mul(xx, du)), f32x4.mul(xy, dv));
      const misfitY = f32x4.add(f32x4.add(yt, f32x4.mul(xy, du)), f32x4.mul(yy, dv));
      const wg = f32x4.div(
        weightG,
        f32x4.sqrt(
          f32x4.add(
            f32x4.add(f32x4.mul(normalX, squared(misfitX)), f32x4.mul(normalY, squared(misfitY))),
            least,
          ),
        ),
      );
      const bx = f32x4.mul(wb, gx);
      const by = f32x4.mul(wb, gy);
      const wx = f32x4.mul(wg, normalX);
      const wy = f32x4.mul(wg, normalY);
      const xxw = f32x4.mul(wx, xx);
      const xyw = f32x4.mul(wx, xy);
      const yxw = f32x4.mul(wy, xy);
      const yyw = f32x4.mul(wy, yy);
      const a11 = f32x4.add(f32x4.add(f32x4.mul(bx, gx), f32x4.mul(xxw, xx)), f32x4.mul(yxw, xy));
      const a12 = f32x4.add(f32x4.add(f32x4.mul(bx, gy), f32x4.mul(xxw, xy)), f32x4.mul(yxw, yy));
      const a22 = f32x4.add(f32x4.add(f32x4.mul(by, gy), f32x4.mul(xyw, xy)), f32x4.mul(yyw, yy));
      const b1 = f32x4.add(f32x4.add(f32x4.mul(bx, gt), f32x4.mul(xxw, xt)), f32x4.mul(yxw, yt));
      const b2 = f32x4.add(f32x4.add(f32x4.mul(by, gt), f32x4.mul(xyw, xt)), f32x4.mul(yyw, yt));
      const bonds = f32x4.add(
        f32x4.add(v128.load(at + BOND_RIGHT * plane - 4), v128.load(at + BOND_RIGHT * plane)),
        f32x4.add(v128.load(at + BOND_DOWN * plane - pitch), v128.load(at + BOND_DOWN * plane)),
      );
      v128.store(at + A12 * plane, v128.and(a12, inside));
      v128.store(at + C1 * plane, v128.and(f32x4.add(b1, f32x4.mul(bonds, u0)), inside));
      v128.store(at + C2 * plane, v128.and(f32x4.add(b2, f32x4.mul(bonds, v0)), inside));
      v128.store(at + W1 * plane, v128.and(f32x4.div(over, f32x4.add(a11, bonds)), inside));
      v128.store(at + W2 * plane, v128.and(f32x4.div(over, f32x4.add(a22, bonds)), inside));
    }
  }
}

/** One sweep over the pixels of one colour of a checkerboard: 0 those whose column and row add up even. */
export function relax(colour: i32, relaxation: f32): void {
  const over = f32x4.splat(relaxation);
  const first = base + pitch;
  for (let y = 0; y < height; y++) {
    const odd = (y + colour) & 1;
    const chosen = odd ? i32x4(0, -1, 0, -1) : i32x4(-1, 0, -1, 0);
    for (let x = 0; x < width; x += 4) {
      const at = first + <usize>y * pitch + (<usize>x << 2);
      const toLeft = v128.load(at + BOND_RIGHT * plane - 4);
      const toRight = v128.load(at + BOND_RIGHT * plane);
      const toUp = v128.load(at + BOND_DOWN * plane - pitch);
      const toDown = v128.load(at + BOND_DOWN * plane);
      const atU = at + U * plane;
      const atV = at + V * plane;
      const pullU = f32x4.add(
        f32x4.add(f32x4.mul(toLeft, v128.load(atU - 4)), f32x4.mul(toRight, v128.load(atU + 4))),
        f32x4.add(f32x4.mul(toUp, v128.load(atU - pitch)), f32x4.mul(toDown, v128.load(atU + pitch))),
      );
      const pullV = f32x4.add(
        f32x4.add(f32x4.mul(toLeft, v128.load(atV - 4)), f32x4.mul(toRight, v128.load(atV + 4))),
        f32x4.add(f32x4.mul(toUp, v128.load(atV - pitch)), f32x4.mul(toDown, v128.load(atV + pitch))),
      );
      const u0 = v128.load(at + START_U * plane);
      const v0 = v128.load(at + START_V * plane);
      const u = v128.load(atU);
      const v = v128.load(atV);
      const a12 = v128.load(at + A12 * plane);
      const du = f32x4.sub(u, u0);
      const dv = f32x4.sub(v, v0);
      const forU = f32x4.sub(f32x4.sub(pullU, v128.load(at + C1 * plane)), f32x4.mul(a12, dv));
      const nextU = f32x4.add(
        du,
        f32x4.sub(f32x4.mul(v128.load(at + W1 * plane), forU), f32x4.mul(over, du)),
      );
      const forV = f32x4.sub(f32x4.sub(pullV, v128.load(at + C2 * plane)), f32x4.mul(a12, nextU));
      const nextV = f32x4.add(
        dv,
        f32x4.sub(f32x4.mul(v128.load(at + W2 * plane), forV), f32x4.mul(over, dv)),
      );
      const changes = v128.and(chosen, before(x, width));
      v128.store(atU, v128.bitselect(f32x4.add(u0, nextU), u, changes));
      v128.store(atV, v128.bitselect(f32x4.add(v0, nextV), v, changes));
    }
  }
}

// Patches of 8 × 8 px: packages/core/src/motion/flow/patch-search.ts has the plain way and says what is done.

const SIDE: i32 = 8;
const COUNT: f64 = 64;

let columns: i32 = 0;
let rows: i32 = 0;
let stride: i32 = 0;
let across8: i32 = 0;
let down8: i32 = 0;
/** Bytes of a row of the first picture, and of the second with its border. */
let rowA: usize = 0;
let rowB: usize = 0;
let border: i32 = 0;
let pictureA: usize = 0;
let gradientX: usize = 0;
let gradientY: usize = 0;
let pictureB: usize = 0;
let patchU: usize = 0;
let patchV: usize = 0;
let patchError: usize = 0;
let fromU: usize = 0;
let fromV: usize = 0;
let alsoU: usize = 0;
let alsoV: usize = 0;
let outU: usize = 0;
let outV: usize = 0;
let total: usize = 0;
let differences: usize = 0;

/** Lays the tables of a search out from `at` on. @returns the first free byte. */
export function placePatches(
  at: usize,
  pictureColumns: i32,
  pictureRows: i32,
  margin: i32,
  patchColumns: i32,
  patchRows: i32,
  step: i32,
): usize {
  across8 = pictureColumns - SIDE;
  down8 = pictureRows - SIDE;
  border = margin;
  columns = patchColumns;
  rows = patchRows;
  stride = step;
  rowA = <usize>pictureColumns << 2;
  rowB = <usize>(pictureColumns + 2 * margin) << 2;
  const pixels = <usize>pictureRows * rowA;
  const patches = <usize>(patchColumns * patchRows) << 2;
  pictureA = (at + 15) & ~15;
  gradientX = pictureA + pixels;
  gradientY = gradientX + pixels;
  pictureB = gradientY + pixels;
  patchU = pictureB + <usize>(pictureRows + 2 * margin) * rowB;
  patchV = patchU + patches;
  patchError = patchV + patches;
  fromU = patchError + patches;
  fromV = fromU + patches;
  alsoU = fromV + patches;
  alsoV = alsoU + patches;
  outU = alsoV + patches;
  outV = outU + pixels;
  total = outV + pixels;
  differences = total + pixels;
  return differences + 64 * 4;
}

/** Where a table lies, in the order of `TABLES` in patch-search.ts. */
export function patchTable(which: i32): usize {
  if (which == 0) return pictureA;
  if (which == 1) return gradientX;
  if (which == 2) return gradientY;
  if (which == 3) return pictureB;
  if (which == 4) return fromU;
  if (which == 5) return fromV;
  if (which == 6) return alsoU;
  if (which == 7) return alsoV;
  if (which == 8) return outU;
  return outV;
}

// @ts-ignore: decorators are the language's own
@inline
function sumOf(lanes: v128): f32 {
  return (
    f32x4.extract_lane(lanes, 0) +
    f32x4.extract_lane(lanes, 1) +
    (f32x4.extract_lane(lanes, 2) + f32x4.extract_lane(lanes, 3))
  );
}

function compare(left: i32, top: i32, u: f64, v: f64): f64 {
  const half: f64 = SIDE / 2;
  const x = max(-half, min(<f64>across8 + half - 1, <f64>left + u));
  const y = max(-half, min(<f64>down8 + half - 1, <f64>top + v));
  const firstX = floor(x);
  const firstY = floor(y);
  const over = x - firstX;
  const below = y - firstY;
  const w00 = f32x4.splat(<f32>((1 - over) * (1 - below)));
  const w01 = f32x4.splat(<f32>(over * (1 - below)));
  const w10 = f32x4.splat(<f32>((1 - over) * below));
  const w11 = f32x4.splat(<f32>(over * below));
  let inA = pictureA + <usize>top * rowA + (<usize>left << 2);
  let inB = pictureB + <usize>(<i32>firstY + border) * rowB + (<usize>(<i32>firstX + border) << 2);
  let sum = f32x4.splat(0);
  for (let d: usize = 0; d < 256; d += 32) {
    for (let part: usize = 0; part < 32; part += 16) {
      const q = inB + part;
      const upper = f32x4.add(f32x4.mul(w00, v128.load(q)), f32x4.mul(w01, v128.load(q + 4)));
      const lower = f32x4.add(
        f32x4.mul(w10, v128.load(q + rowB)),
        f32x4.mul(w11, v128.load(q + rowB + 4)),
      );
      const difference = f32x4.sub(f32x4.add(upper, lower), v128.load(inA + part));
      v128.store(differences + d + part, difference);
      sum = f32x4.add(sum, difference);
    }
    inA += rowA;
    inB += rowB;
  }
  const mean = f32x4.splat(sumOf(sum) / 64);
  let squares = f32x4.splat(0);
  for (let d: usize = 0; d < 256; d += 16) {
    const difference = f32x4.sub(v128.load(differences + d), mean);
    v128.store(differences + d, difference);
    squares = f32x4.add(squares, squared(difference));
  }
  return <f64>sumOf(squares);
}

function leftOf(column: i32): i32 {
  return min(across8, column * stride);
}

function topOf(row: i32): i32 {
  return min(down8, row * stride);
}

let bestU: f64 = 0;
let bestV: f64 = 0;
let bestError: f64 = 0;

function tryAt(left: i32, top: i32, u: f64, v: f64, same: f64): void {
  if (abs(u - bestU) + abs(v - bestV) < same) return;
  const error = compare(left, top, u, v);
  if (error < bestError) {
    bestError = error;
    bestU = u;
    bestV = v;
  }
}

// @ts-ignore: decorators are the language's own
@inline
function at32(table: usize, i: i32): f64 {
  return <f64>load<f32>(table + (<usize>i << 2));
}

function descend(at: i32, left: i32, top: i32, flat: f64, iterations: i32, atRest: f64): void {
  const p = <usize>top * rowA + (<usize>left << 2);
  let lanesXX = f32x4.splat(0);
  let lanesXY = f32x4.splat(0);
  let lanesYY = f32x4.splat(0);
  let lanesX = f32x4.splat(0);
  let lanesY = f32x4.splat(0);
  for (let y: usize = 0, q = p; y < 8; y++, q += rowA) {
    for (let part: usize = 0; part < 32; part += 16) {
      const gx = v128.load(gradientX + q + part);
      const gy = v128.load(gradientY + q + part);
      lanesXX = f32x4.add(lanesXX, squared(gx));
      lanesXY = f32x4.add(lanesXY, f32x4.mul(gx, gy));
      lanesYY = f32x4.add(lanesYY, squared(gy));
      lanesX = f32x4.add(lanesX, gx);
      lanesY = f32x4.add(lanesY, gy);
    }
  }
  const sumX = <f64>sumOf(lanesX);
  const sumY = <f64>sumOf(lanesY);
  const xx = <f64>sumOf(lanesXX) + (flat * COUNT - (sumX * sumX) / COUNT);
  const yy = <f64>sumOf(lanesYY) + (flat * COUNT - (sumY * sumY) / COUNT);
  const xy = <f64>sumOf(lanesXY) - (sumX * sumY) / COUNT;
  const determinant = xx * yy - xy * xy;
  const inverseXX = yy / determinant;
  const inverseXY = -xy / determinant;
  const inverseYY = xx / determinant;
  let u = bestU;
  let v = bestV;
  let error = compare(left, top, u, v);
  for (let i = 0; i < iterations; i++) {
    let slopesX = f32x4.splat(0);
    let slopesY = f32x4.splat(0);
    for (let d: usize = 0, q = p; d < 256; d += 32, q += rowA) {
      for (let part: usize = 0; part < 32; part += 16) {
        const difference = v128.load(differences + d + part);
        slopesX = f32x4.add(slopesX, f32x4.mul(v128.load(gradientX + q + part), difference));
        slopesY = f32x4.add(slopesY, f32x4.mul(v128.load(gradientY + q + part), difference));
      }
    }
    const x = <f64>sumOf(slopesX);
    const y = <f64>sumOf(slopesY);
    const du = inverseXX * x + inverseXY * y;
    const dv = inverseXY * x + inverseYY * y;
    const next = compare(left, top, u - du, v - dv);
    if (next >= error) break;
    u -= du;
    v -= dv;
    error = next;
    if (du * du + dv * dv < atRest) break;
  }
  const wayX = u - bestU;
  const wayY = v - bestV;
  const isLost = wayX * wayX + wayY * wayY > <f64>(SIDE * SIDE);
  store<f32>(patchU + (<usize>at << 2), <f32>(isLost ? bestU : u));
  store<f32>(patchV + (<usize>at << 2), <f32>(isLost ? bestV : v));
  store<f32>(patchError + (<usize>at << 2), <f32>(isLost ? bestError : error));
}

/** One sweep over all patches: forwards from the given field, backwards (−1) from what was found. */
export function sweepPatches(
  way: i32,
  hasAlso: bool,
  flat: f64,
  same: f64,
  iterations: i32,
  atRest: f64,
): void {
  const patches = columns * rows;
  for (let i = 0; i < patches; i++) {
    const at = way == 1 ? i : patches - 1 - i;
    const column = at % columns;
    const row = at / columns;
    const left = leftOf(column);
    const top = topOf(row);
    if (way == 1) {
      bestU = at32(fromU, at);
      bestV = at32(fromV, at);
      bestError = compare(left, top, bestU, bestV);
    } else {
      bestU = at32(patchU, at);
      bestV = at32(patchV, at);
      bestError = at32(patchError, at);
    }
    if (hasAlso) tryAt(left, top, at32(alsoU, at), at32(alsoV, at), same);
    const beside = column - way;
    if (beside >= 0 && beside < columns) {
      tryAt(left, top, at32(patchU, at - way), at32(patchV, at - way), same);
    }
    const beyond = row - way;
    if (beyond >= 0 && beyond < rows) {
      const neighbour = at - way * columns;
      tryAt(left, top, at32(patchU, neighbour), at32(patchV, neighbour), same);
    }
    descend(at, left, top, flat, iterations, atRest);
  }
}

/** The field of all pixels, from the patches that cover them. */
export function spreadPatches(): void {
  memory.fill(outU, 0, differences - outU);
  const one = f32x4.splat(1);
  const patches = columns * rows;
  for (let at = 0; at < patches; at++) {
    const left = leftOf(at % columns);
    const top = topOf(at / columns);
    const ofU = load<f32>(patchU + (<usize>at << 2));
    const ofV = load<f32>(patchV + (<usize>at << 2));
    compare(left, top, <f64>ofU, <f64>ofV);
    const u = f32x4.splat(ofU);
    const v = f32x4.splat(ofV);
    let p = <usize>top * rowA + (<usize>left << 2);
    for (let d: usize = 0; d < 256; d += 32, p += rowA) {
      for (let part: usize = 0; part < 32; part += 16) {
        const q = p + part;
        const size = f32x4.max(one, f32x4.abs(v128.load(differences + d + part)));
        const weight = f32x4.div(one, size);
        v128.store(outU + q, f32x4.add(v128.load(outU + q), f32x4.mul(weight, u)));
        v128.store(outV + q, f32x4.add(v128.load(outV + q), f32x4.mul(weight, v)));
        v128.store(total + q, f32x4.add(v128.load(total + q), weight));
      }
    }
  }
  for (let p = outU; p < outV; p += 4) {
    const weight = load<f32>(p + (total - outU));
    store<f32>(p, load<f32>(p) / weight);
    store<f32>(p + (outV - outU), load<f32>(p + (outV - outU)) / weight);
  }
}
