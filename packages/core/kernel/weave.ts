// The squares of cells, in AssemblyScript (a dialect of TypeScript) with SIMD: eight bytes of two frames at a
// time. packages/core/src/weave/cells.ts has the plain way, which gives the same to the bit. Built by
// `npm run make-kernel` into packages/core/src/weave/weave-kernel.ts.

/** Squared differences of eight bytes, as four sums of two. */
// @ts-ignore: decorators are the language's own
@inline
function squared(a: usize, b: usize): v128 {
  const step = i16x8.sub(v128.load_ext<u8>(a), v128.load_ext<u8>(b));
  return i32x4.dot_i16x8_s(step, step);
}

/**
 * Mean squared differences of two frames in cells of `cell` (4 or 8) px: luma, and chroma of half the rows,
 * weighted by tables of one f32 a cell.
 */
export function squares(
  lumaA: usize,
  lumaB: usize,
  chromaA: usize,
  chromaB: usize,
  pitch: usize,
  rows: i32,
  cell: i32,
  lumaShares: usize,
  chromaShares: usize,
  out: usize,
): void {
  const groups = <i32>(pitch >> 3);
  for (let row = 0; row < rows; row++) {
    for (let group = 0; group < groups; group++) {
      const at = <usize>(row * cell) * pitch + (<usize>group << 3);
      let light = i32x4.splat(0);
      for (let y = 0, p = at; y < cell; y++, p += pitch) {
        light = i32x4.add(light, squared(lumaA + p, lumaB + p));
      }
      const half = cell >> 1;
      const chromaAt = <usize>(row * half) * pitch + (<usize>group << 3);
      let colour = i32x4.splat(0);
      for (let y = 0, p = chromaAt; y < half; y++, p += pitch) {
        colour = i32x4.add(colour, squared(chromaA + p, chromaB + p));
      }
      const lightLow = i32x4.extract_lane(light, 0) + i32x4.extract_lane(light, 1);
      const lightHigh = i32x4.extract_lane(light, 2) + i32x4.extract_lane(light, 3);
      const colourLow = i32x4.extract_lane(colour, 0) + i32x4.extract_lane(colour, 1);
      const colourHigh = i32x4.extract_lane(colour, 2) + i32x4.extract_lane(colour, 3);
      if (cell == 8) {
        const to = <usize>(row * groups + group) << 2;
        store<f32>(
          out + to,
          <f32>(lightLow + lightHigh) * load<f32>(lumaShares + to) +
            <f32>(colourLow + colourHigh) * load<f32>(chromaShares + to),
        );
      } else {
        const to = <usize>(row * groups + group) << 3;
        store<f32>(
          out + to,
          <f32>lightLow * load<f32>(lumaShares + to) + <f32>colourLow * load<f32>(chromaShares + to),
        );
        store<f32>(
          out + to + 4,
          <f32>lightHigh * load<f32>(lumaShares + to + 4) +
            <f32>colourHigh * load<f32>(chromaShares + to + 4),
        );
      }
    }
  }
}

// Sequential tree-reweighted message passing: packages/core/src/weave/message-sweeps.ts has the plain way, which
// gives the same to the bit, and says what is done and why; names are the same.

let nodes: i32 = 0;
let starts: i32 = 0;
let apart: f32 = 0;
/** Bytes of a row of labels and of a row of starts; rows are padded to whole vectors. */
let labelRow: usize = 0;
let startRow: usize = 0;
let left: usize = 0;
let right: usize = 0;
let up: usize = 0;
let down: usize = 0;
let unary: usize = 0;
let change: usize = 0;
let still: usize = 0;
let fromLeft: usize = 0;
let fromRight: usize = 0;
let fromUp: usize = 0;
let fromDown: usize = 0;
let sum: usize = 0;
let message: usize = 0;
let rising: usize = 0;

/** Lays the tables of a problem out from `base` on. @returns the first free byte. */
export function placeMessages(base: usize, nodeCount: i32, startCount: i32, frontier: f32): usize {
  nodes = nodeCount;
  starts = startCount;
  apart = frontier;
  labelRow = <usize>((startCount + 1 + 3) & ~3) << 2;
  startRow = <usize>((startCount + 3) & ~3) << 2;
  const n = <usize>nodeCount;
  left = base;
  right = left + n * 4;
  up = right + n * 4;
  down = up + n * 4;
  unary = (down + n * 4 + 15) & ~15;
  change = unary + n * labelRow;
  still = change + n * startRow;
  fromLeft = still + n * startRow;
  fromRight = fromLeft + n * labelRow;
  fromUp = fromRight + n * labelRow;
  fromDown = fromUp + n * labelRow;
  sum = fromDown + n * labelRow;
  message = sum + labelRow;
  rising = message + labelRow;
  return rising + labelRow;
}

/** Where a table lies: 0 neighbours, 1 unary, 2 change, 3 still, 4 from the right, 5 from below, 6 all messages. */
export function tableAt(which: i32): usize {
  if (which == 0) return left;
  if (which == 1) return unary;
  if (which == 2) return change;
  if (which == 3) return still;
  if (which == 4) return fromRight;
  if (which == 5) return fromDown;
  return fromLeft;
}

// @ts-ignore: decorators are the language's own
@inline
function has(table: usize, x: i32): bool {
  return load<i32>(table + (<usize>x << 2)) >= 0;
}

function gather(x: i32): void {
  const at = <usize>x * labelRow;
  for (let l: usize = 0; l < labelRow; l += 16) {
    let v = f32x4.add(v128.load(unary + at + l), v128.load(fromLeft + at + l));
    v = f32x4.add(v, v128.load(fromRight + at + l));
    v = f32x4.add(v, v128.load(fromUp + at + l));
    v = f32x4.add(v, v128.load(fromDown + at + l));
    v128.store(sum + l, v);
  }
}

function shareOf(x: i32): f32 {
  const after = <i32>has(right, x) + <i32>has(down, x);
  const before = <i32>has(left, x) + <i32>has(up, x);
  const most = after > before ? after : before;
  return most > 1 ? <f32>0.5 : <f32>1;
}

function send(x: i32, to: i32, back: usize, into: usize, part: f32): f32 {
  const from = back + <usize>x * labelRow;
  const parts = f32x4.splat(part);
  for (let l: usize = 0; l < labelRow; l += 16) {
    v128.store(message + l, f32x4.sub(f32x4.mul(v128.load(sum + l), parts), v128.load(from + l)));
  }
  const atX = <usize>x * startRow;
  const atZ = <usize>to * startRow;
  const end = <usize>starts << 2;
  const held = load<f32>(message + end);
  let toStill = held;
  let least = held;
  let run: f32 = Infinity;
  for (let i: usize = 0; i < end; i += 4) {
    const value = load<f32>(message + i);
    const stilled = value + (load<f32>(still + atX + i) + load<f32>(still + atZ + i)) + apart;
    if (stilled < toStill) toStill = stilled;
    if (value < least) least = value;
    store<f32>(rising + i, run);
    const other = value + apart;
    run = (other < run ? other : run) + (load<f32>(change + atX + i) + load<f32>(change + atZ + i));
  }
  run = Infinity;
  const out = into + <usize>to * labelRow;
  for (let i: i32 = <i32>end - 4; i >= 0; i -= 4) {
    const own = load<f32>(message + i);
    if (i < <i32>end - 4) run += load<f32>(change + atX + i) + load<f32>(change + atZ + i);
    let value = own;
    const risen = load<f32>(rising + i);
    if (risen < value) value = risen;
    if (run < value) value = run;
    const fromStill = held + (load<f32>(still + atX + i) + load<f32>(still + atZ + i)) + apart;
    if (fromStill < value) value = fromStill;
    store<f32>(out + i, value - least);
    const other = own + apart;
    if (other < run) run = other;
  }
  store<f32>(out + end, toStill - least);
  return least;
}

export function sweepForward(): void {
  for (let x = 0; x < nodes; x++) {
    const toRight = load<i32>(right + (<usize>x << 2));
    const toDown = load<i32>(down + (<usize>x << 2));
    if (toRight < 0 && toDown < 0) continue;
    gather(x);
    const part = shareOf(x);
    if (toRight >= 0) send(x, toRight, fromRight, fromLeft, part);
    if (toDown >= 0) send(x, toDown, fromDown, fromUp, part);
  }
}

/** @returns the bound. */
export function sweepBackward(): f64 {
  let low: f64 = 0;
  for (let x = nodes - 1; x >= 0; x--) {
    gather(x);
    const part = shareOf(x);
    let least: f32 = Infinity;
    const end = <usize>(starts + 1) << 2;
    for (let l: usize = 0; l < end; l += 4) {
      const value = load<f32>(sum + l);
      if (value < least) least = value;
    }
    low += least;
    const leasts = f32x4.splat(least);
    for (let l: usize = 0; l < labelRow; l += 16) {
      v128.store(sum + l, f32x4.sub(v128.load(sum + l), leasts));
    }
    const toLeft = load<i32>(left + (<usize>x << 2));
    const toUp = load<i32>(up + (<usize>x << 2));
    if (toLeft >= 0) low += send(x, toLeft, fromLeft, fromRight, part);
    if (toUp >= 0) low += send(x, toUp, fromUp, fromDown, part);
  }
  return low;
}
