// Nearest colours, in AssemblyScript (a dialect of TypeScript) with SIMD: a pass of k-means over a histogram's bins,
// and the palette entries of a frame's segments. packages/core/src/palette/nearest.ts has the plain way, in double
// precision. Built by `npm run make-kernel` into packages/core/src/palette/nearest-kernel.ts.

const LUMA_RED: f32 = 0.299;
const LUMA_GREEN: f32 = 0.587;
const LUMA_BLUE: f32 = 0.114;
/** Stands behind the entries, so that four at a time may be looked at. */
const FAR: f32 = 1e9;
/** Bytes of one number of all entries: 256, and four behind them. */
const PLANE: usize = 1040;
/** Answers that are kept at once. */
const SLOTS: usize = 1 << 15;
/** Numbers of each centre in a pass. */
const SUMS: usize = 8;

let lumas: usize = 0; // f32, rising
let firsts: usize = 0; // i32, 257: the first entry that is no darker
let order: usize = 0; // i32: which entry it is
let scales: usize = 0; // f32, classes: what differences of colour are scaled by
let colours: usize = 0; // for each class f32 blues and f32 reds, scaled
let work: usize = 0;
let classes: i32 = 0;
let blueScale: f32 = 0;
let redScale: f32 = 0;

export function firstFree(): usize {
  return (__heap_base + 15) & ~15;
}
/** @returns where work may begin. */
export function place(at: usize, classCount: i32, blue: f32, red: f32): usize {
  classes = classCount;
  blueScale = blue;
  redScale = red;
  lumas = at;
  firsts = lumas + PLANE;
  order = firsts + PLANE;
  scales = order + PLANE;
  colours = scales + 64;
  work = colours + <usize>classes * 2 * PLANE;
  return work;
}
export function lumasAt(): usize {
  return lumas;
}
export function orderAt(): usize {
  return order;
}
export function scalesAt(): usize {
  return scales;
}
/** Where the blues of the first class stand, not yet scaled, and the reds behind them. */
export function coloursAt(): usize {
  return colours + (<usize>classes - 1) * 2 * PLANE;
}
/** Bins: f32 planes of luma, blue, red, weight and weight of colour, then a class each, then SUMS × f64 a centre. */
export function bytesForBins(bins: i32): usize {
  return work + padded(bins) * 21 + 256 * SUMS * 8;
}
export function sumsAt(bins: i32): usize {
  return work + padded(bins) * 21;
}
/** Frame: u32 pixels, u16 durations, classes, plan, then the answers kept. */
export function bytesForFrame(pixels: i32): usize {
  return work + padded(pixels) * 8 + SLOTS * 8;
}

// @ts-ignore: decorators are the language's own
@inline
function padded(count: i32): usize {
  return (<usize>count + 15) & ~15;
}

/** Makes the entries ready that stand at lumasAt and, for the last class, at coloursAt. */
export function takeEntries(count: i32): void {
  const plain = coloursAt();
  for (let which = 0; which < classes; which++) {
    const scale = load<f32>(scales + (<usize>which << 2));
    const scaled = colours + <usize>which * 2 * PLANE;
    for (let i: usize = 0; i < <usize>count << 2; i += 4) {
      store<f32>(scaled + i, load<f32>(plain + i) * scale);
      store<f32>(scaled + PLANE + i, load<f32>(plain + PLANE + i) * scale);
    }
    for (let i = <usize>count << 2; i < PLANE; i += 4) {
      store<f32>(scaled + i, FAR);
      store<f32>(scaled + PLANE + i, FAR);
    }
  }
  for (let i = <usize>count << 2; i < PLANE; i += 4) store<f32>(lumas + i, FAR);
  for (let luma = 0, i = 0; luma < 257; luma++) {
    while (i < count && load<f32>(lumas + (<usize>i << 2)) < <f32>luma) i++;
    store<i32>(firsts + (<usize>luma << 2), i);
  }
  // A centre may lie beyond black or white.
  store<i32>(firsts, 0);
  store<i32>(firsts + (256 << 2), count);
}

// @ts-ignore: decorators are the language's own
@inline
function least4(four: v128): f32 {
  const two = f32x4.pmin(four, v128.shuffle<f32>(four, four, 2, 3, 0, 1));
  return f32x4.extract_lane(f32x4.pmin(two, v128.shuffle<f32>(two, two, 1, 0, 3, 2)), 0);
}

/**
 * Entries stand in the order of their luma: four around the colour's own say how far to look, and only there it is
 * looked. The two differences of colour are given as they are; `which` is a class.
 */
// @ts-ignore: decorators are the language's own
@inline
function find(y: f32, blue: f32, red: f32, count: i32, which: i32): i32 {
  const scale = load<f32>(scales + (<usize>which << 2));
  const blues = colours + <usize>which * 2 * PLANE;
  const ys = f32x4.splat(y);
  const us = f32x4.splat(blue * scale);
  const vs = f32x4.splat(red * scale);
  const luma = max<i32>(0, min<i32>(255, <i32>y));
  const at = max(0, min(load<i32>(firsts + (<usize>luma << 2)) - 1, count - 4));
  let i = <usize>at << 2;
  let dy = f32x4.sub(v128.load(lumas + i), ys);
  let du = f32x4.sub(v128.load(blues + i), us);
  let dv = f32x4.sub(v128.load(blues + i, PLANE), vs);
  let best = f32x4.add(f32x4.add(f32x4.mul(dy, dy), f32x4.mul(du, du)), f32x4.mul(dv, dv));
  let index = i32x4.add(i32x4.splat(at), i32x4(0, 1, 2, 3));
  const reach = sqrt<f32>(least4(best));
  const from = load<i32>(firsts + (<usize>max<i32>(0, <i32>max<f32>(0, y - reach)) << 2));
  const to = load<i32>(firsts + (<usize>max<i32>(0, min<i32>(256, <i32>(y + reach) + 1)) << 2));
  let here = i32x4.add(i32x4.splat(from), i32x4(0, 1, 2, 3));
  const four = i32x4.splat(4);
  const end = <usize>to << 2;
  for (i = <usize>from << 2; i < end; i += 16) {
    dy = f32x4.sub(v128.load(lumas + i), ys);
    du = f32x4.sub(v128.load(blues + i), us);
    dv = f32x4.sub(v128.load(blues + i, PLANE), vs);
    const distance = f32x4.add(f32x4.add(f32x4.mul(dy, dy), f32x4.mul(du, du)), f32x4.mul(dv, dv));
    index = v128.bitselect(here, index, f32x4.lt(distance, best));
    best = f32x4.pmin(best, distance);
    here = i32x4.add(here, four);
  }
  const lanes = i32x4.bitmask(f32x4.eq(best, f32x4.splat(least4(best))));
  const found =
    lanes & 1
      ? i32x4.extract_lane(index, 0)
      : lanes & 2
        ? i32x4.extract_lane(index, 1)
        : lanes & 4
          ? i32x4.extract_lane(index, 2)
          : i32x4.extract_lane(index, 3);
  return load<i32>(order + (<usize>found << 2));
}

// @ts-ignore: decorators are the language's own
@inline
function add(at: usize, value: f64): void {
  store<f64>(at, load<f64>(at) + value);
}

/** One pass: every bin goes to its nearest centre. Sums of weights, values and squares of each centre. */
export function assign(bins: i32, count: i32): void {
  const plane = padded(bins) << 2;
  const classOf = work + plane * 5;
  const sums = sumsAt(bins);
  memory.fill(sums, 0, 256 * SUMS * 8);
  for (let bin = 0; bin < bins; bin++) {
    const at = work + (<usize>bin << 2);
    const y = load<f32>(at);
    const u = load<f32>(at + plane);
    const v = load<f32>(at + plane * 2);
    const weight = <f64>load<f32>(at + plane * 3);
    const chroma = <f64>load<f32>(at + plane * 4);
    const sum = sums + <usize>find(y, u, v, count, <i32>load<u8>(classOf + bin)) * SUMS * 8;
    add(sum, weight);
    add(sum + 8, chroma);
    add(sum + 16, weight * <f64>y);
    add(sum + 24, chroma * <f64>u);
    add(sum + 32, chroma * <f64>v);
    add(sum + 40, weight * <f64>y * <f64>y);
    add(sum + 48, chroma * <f64>u * <f64>u);
    add(sum + 56, chroma * <f64>v * <f64>v);
  }
}

/** Forgets the answers kept. */
export function forget(pixels: i32): void {
  memory.fill(work + padded(pixels) * 8, 0, SLOTS * 8);
}

/** The entry of every segment that begins in the frame. */
export function mapFrame(pixels: i32, count: i32): void {
  const durations = work + padded(pixels) * 4;
  const classOf = durations + padded(pixels) * 2;
  const plan = classOf + padded(pixels);
  const answers = plan + padded(pixels);
  for (let p = 0; p < pixels; p++) {
    if (load<u16>(durations + (<usize>p << 1)) == 0) continue;
    const which = <u32>load<u8>(classOf + p);
    // Colour and class, and a bit that says that there is an answer.
    const key = (load<u32>(work + (<usize>p << 2)) & 0xffffff) | ((which | 0x80) << 24);
    const slot = answers + ((<usize>((key * 0x9e3779b1) >> 17)) << 3);
    if (load<u32>(slot) == key) {
      store<u8>(plan + p, load<u8>(slot, 4));
      continue;
    }
    const red = <f32>(key & 255);
    const blue = <f32>((key >> 16) & 255);
    const luma = LUMA_RED * red + LUMA_GREEN * <f32>((key >> 8) & 255) + LUMA_BLUE * blue;
    const entry = find(luma, (blue - luma) * blueScale, (red - luma) * redScale, count, <i32>which);
    store<u32>(slot, key);
    store<u8>(slot, <u8>entry, 4);
    store<u8>(plan + p, <u8>entry);
  }
}
