// Optical flow, in AssemblyScript (a dialect of TypeScript) with SIMD: four pixels at a time. Relaxation:
// packages/core/src/motion/flow/relaxation.ts has the plain way and says what is done; patches:
// packages/core/src/motion/flow/patch-search.ts. Both give the same to the bit; names are the same. Built by
// `npm run make-kernel` into packages/core/src/motion/flow-kernel.ts.

let width: i32 = 0;
let height: i32 = 0;
/** Bytes of a row and of a plane; a plane has an empty row above and one below. */
let pitch: usize = 0;
let plane: usize = 0;
let base: usize = 0;

/** The order of the planes, as `PLANES` in relaxation.ts. */
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
