// Resizing one frame in linear light, in AssemblyScript (a dialect of TypeScript) with SIMD: a pixel's four
// channels at a
// time. packages/core/src/pixels/resize.ts is the plain reference and says what is done and why; names are
// the same. Built
// by `npm run make-kernel` into packages/core/src/pixels/resize-kernel.ts.

// Where the host laid things out; set by `place`.
let linearTable: usize = 0; // f32, 256
let codedTable: usize = 0; // u8, 65536
let input: usize = 0; // RGBA, fromWidth × fromRows × 4 bytes
let output: usize = 0; // RGBA, toWidth × toHeight × 4 bytes
let downFirst: usize = 0; // i32, toHeight
let downCount: usize = 0; // i32, toHeight
let downWeights: usize = 0; // f32, toHeight × downStride
let acrossFirst: usize = 0;
let acrossCount: usize = 0;
let acrossWeights: usize = 0;
let ring: usize = 0; // f32 × 4 lanes, fromWidth × downStride: input rows in linear light, the newest over the oldest
let row: usize = 0; // f32 × 4 lanes, fromWidth
let fromWidth: i32 = 0;
let fromRows: i32 = 0;
let toWidth: i32 = 0;
let toHeight: i32 = 0;
let downStride: i32 = 0;
let acrossStride: i32 = 0;

const MAX: f32 = 65535;

function aligned(at: usize): usize {
  return (at + 15) & ~15;
}

/** Lays everything out. @returns the first free byte. */
export function place(
  fromW: i32,
  fromR: i32,
  toW: i32,
  toH: i32,
  strideDown: i32,
  strideAcross: i32,
): usize {
  fromWidth = fromW;
  fromRows = fromR;
  toWidth = toW;
  toHeight = toH;
  downStride = strideDown;
  acrossStride = strideAcross;
  linearTable = aligned(__heap_base);
  codedTable = linearTable + 1024;
  downFirst = aligned(codedTable + 65536);
  downCount = downFirst + <usize>toH * 4;
  downWeights = downCount + <usize>toH * 4;
  acrossFirst = downWeights + <usize>(toH * strideDown) * 4;
  acrossCount = acrossFirst + <usize>toW * 4;
  acrossWeights = acrossCount + <usize>toW * 4;
  row = aligned(acrossWeights + <usize>(toW * strideAcross) * 4);
  ring = row + <usize>fromW * 16;
  input = ring + <usize>(fromW * strideDown) * 16;
  output = aligned(input + <usize>(fromW * fromR) * 4);
  return output + <usize>(toW * toH) * 4;
}

export function linearTableAt(): usize {
  return linearTable;
}
export function codedTableAt(): usize {
  return codedTable;
}
export function inputAt(): usize {
  return input;
}
export function outputAt(): usize {
  return output;
}
export function downFirstAt(): usize {
  return downFirst;
}
export function acrossFirstAt(): usize {
  return acrossFirst;
}

function isOpaque(): bool {
  let all = i32x4.splat(-1);
  const bytes = <usize>(fromWidth * fromRows) * 4;
  let at: usize = 0;
  for (; at + 16 <= bytes; at += 16) all = v128.and(all, v128.load(input + at));
  let rest: u32 = 0xffffffff;
  for (; at < bytes; at += 4) rest &= load<u32>(input + at);
  rest &= <u32>i32x4.extract_lane(all, 0) & <u32>i32x4.extract_lane(all, 1);
  rest &= <u32>i32x4.extract_lane(all, 2) & <u32>i32x4.extract_lane(all, 3);
  return rest >>> 24 == 255;
}

function linearRow(y: i32, opaque: bool): void {
  let from = input + <usize>(y * fromWidth) * 4;
  let to = ring + <usize>((y % downStride) * fromWidth) * 16;
  const end = from + <usize>fromWidth * 4;
  for (; from < end; from += 4, to += 16) {
    const red = load<f32>(linearTable + (<usize>load<u8>(from) << 2));
    const green = load<f32>(linearTable + (<usize>load<u8>(from, 1) << 2));
    const blue = load<f32>(linearTable + (<usize>load<u8>(from, 2) << 2));
    if (opaque) {
      store<f32>(to, red);
      store<f32>(to, green, 4);
      store<f32>(to, blue, 8);
      store<f32>(to, 1, 12);
      continue;
    }
    const alpha = <f32>load<u8>(from, 3) / 255;
    store<f32>(to, red * alpha);
    store<f32>(to, green * alpha, 4);
    store<f32>(to, blue * alpha, 8);
    store<f32>(to, alpha, 12);
  }
}

/** The weighted sum of the input rows of one output row. */
function blendRows(y: i32): void {
  const first = load<i32>(downFirst + (<usize>y << 2));
  const count = load<i32>(downCount + (<usize>y << 2));
  const weights = downWeights + <usize>(y * downStride) * 4;
  const bytes = <usize>fromWidth * 16;
  for (let k: i32 = 0; k < count; k += 2) {
    const a = ring + <usize>(((first + k) % downStride) * fromWidth) * 16;
    const weightA = f32x4.splat(load<f32>(weights + (<usize>k << 2)));
    // Beyond the last row the weight is 0, and any row will do.
    const isPair = k + 1 < count;
    const b = isPair ? ring + <usize>(((first + k + 1) % downStride) * fromWidth) * 16 : a;
    const weightB = f32x4.splat(isPair ? load<f32>(weights + (<usize>(k + 1) << 2)) : 0);
    if (k == 0) {
      for (let i: usize = 0; i < bytes; i += 16) {
        v128.store(
          row + i,
          f32x4.add(f32x4.mul(v128.load(a + i), weightA), f32x4.mul(v128.load(b + i), weightB)),
        );
      }
    } else {
      for (let i: usize = 0; i < bytes; i += 16) {
        const sum = f32x4.add(f32x4.mul(v128.load(a + i), weightA), f32x4.mul(v128.load(b + i), weightB));
        v128.store(row + i, f32x4.add(v128.load(row + i), sum));
      }
    }
  }
}

function coded(linear: f32): u32 {
  return load<u8>(codedTable + <usize>(<i32>(linear + 0.5)));
}

function resizeRow(y: i32, opaque: bool): void {
  let to = output + <usize>(y * toWidth) * 4;
  const none = f32x4.splat(0);
  const most = f32x4.splat(MAX);
  for (let x: i32 = 0; x < toWidth; x++, to += 4) {
    const count = load<i32>(acrossCount + (<usize>x << 2));
    let from = row + <usize>load<i32>(acrossFirst + (<usize>x << 2)) * 16;
    let weight = acrossWeights + <usize>(x * acrossStride) * 4;
    let sum = none;
    for (let k: i32 = 0; k < count; k++, from += 16, weight += 4) {
      sum = f32x4.add(sum, f32x4.mul(v128.load(from), v128.load32_splat(weight)));
    }
    let alpha: u32 = 255;
    if (!opaque) {
      const seen = f32x4.extract_lane(sum, 3);
      if (seen <= 0) {
        store<u32>(to, 0);
        continue;
      }
      if (seen < 1) {
        alpha = <u32>(seen * 255 + 0.5);
        sum = f32x4.mul(sum, f32x4.splat(1 / seen));
      }
    }
    sum = f32x4.max(none, f32x4.min(most, sum));
    const red = coded(f32x4.extract_lane(sum, 0));
    const green = coded(f32x4.extract_lane(sum, 1));
    const blue = coded(f32x4.extract_lane(sum, 2));
    store<u32>(to, red | (green << 8) | (blue << 16) | (alpha << 24));
  }
}

/** Turns the input into the output. */
export function resize(): void {
  const opaque = isOpaque();
  let read: i32 = 0;
  for (let y: i32 = 0; y < toHeight; y++) {
    const end = load<i32>(downFirst + (<usize>y << 2)) + load<i32>(downCount + (<usize>y << 2));
    // Rows that no later output row needs are not kept.
    if (read < end - downStride) read = end - downStride;
    for (; read < end; read++) linearRow(read, opaque);
    blendRows(y);
    resizeRow(y, opaque);
  }
}
