// The settling of one strip of rows, in AssemblyScript (a dialect of TypeScript) with SIMD: four pixels at a
// time
// where they do the same, one at a time for the cuts. packages/core/src/settle/segment-series.ts is the plain
// reference and says what is done and why; names are the same. Built by `npm run make-kernel` into
// packages/core/src/settle/settle-kernel.ts.

const LUMA_RED: f32 = 0.299;
const LUMA_GREEN: f32 = 0.587;
const LUMA_BLUE: f32 = 0.114;
const BLUE_SCALE: f32 = 0.564 * 0.7;
const RED_SCALE: f32 = 0.713 * 0.7;
const NO_DIFFERENCE: f32 = 0.01;
const WINDOW: i32 = 24;
const FAR: f32 = 3.4e38;

// Where the host laid things out; set by `place`. A row is padded to whole groups of four pixels; P is the
// padded strip's pixels.
let pictures: usize = 0; // RGBA, N × P × 4 bytes
let durations: usize = 0; // u16, N × P
let masking: usize = 0; // f32, P
let candidates: usize = 0; // u8, P/4 × N: a bit for each of the four pixels
let begins: usize = 0; // u8, N planes with a margin of a row above and below and four places left and right, all 0
let beginPlane: usize = 0; // bytes of one of them
let lumas: usize = 0; // f32 × 4 lanes, N + 1
let blues: usize = 0;
let reds: usize = 0;
let squares: usize = 0;
let cost: usize = 0; // f32 × 4 lanes, N + 1
let from_: usize = 0; // i32 × 4 lanes, N + 1
let places: usize = 0; // i32, N + 2
let shares: usize = 0; // f32, N + 1
let prices: usize = 0; // f32 × 4 lanes, N
// f32, 9 by neighbours, then of a still place, discount a level, least, still levels, and what four lengths must save
let costs: usize = 0;
let count: i32 = 0;
let pitch: i32 = 0; // pixels of a padded row
let stride: i32 = 0; // pixels of the padded strip

/**
 * Lays everything out for N frames of at most `rows` rows from `base` on; touches none of it yet.
 * @returns the first free byte.
 */
export function place(base: usize, frames: i32, width: i32, rows: i32): usize {
  count = frames;
  pitch = (width + 3) & ~3;
  stride = pitch * rows;
  const n = <usize>frames;
  const p = <usize>stride;
  const lanes = (n + 1) * 16;
  pictures = base;
  durations = pictures + n * p * 4;
  masking = durations + n * p * 2;
  costs = masking + p * 4;
  lumas = (costs + 96 + 15) & ~15;
  blues = lumas + lanes;
  reds = blues + lanes;
  squares = reds + lanes;
  cost = squares + lanes;
  from_ = cost + lanes;
  prices = from_ + lanes;
  places = prices + lanes;
  shares = places + (n + 2) * 4;
  candidates = shares + (n + 1) * 4;
  begins = candidates + (p / 4) * n;
  beginPlane = <usize>(pitch + 8) * <usize>(rows + 2);
  return begins + n * beginPlane;
}

export function picturesAt(): usize {
  return pictures;
}
export function durationsAt(): usize {
  return durations;
}
export function maskingAt(): usize {
  return masking;
}
export function costsAt(): usize {
  return costs;
}
/** Pixels from one row to the next, and of the whole strip from one frame to the next. */
export function pitchOf(): i32 {
  return pitch;
}
export function strideOf(): i32 {
  return stride;
}

/** Settles the strip that the host has copied in, `rows` padded rows, gone through `passes` times. */
export function settleStrip(rows: i32, price: f32, passes: i32): void {
  const n = count;
  for (let i: i32 = 1; i <= n; i++) store<f32>(shares + (<usize>i << 2), <f32>1 / <f32>i);
  memory.fill(begins, 0, <usize>n * beginPlane);
  memory.fill(candidates, 0, (<usize>stride / 4) * <usize>n);
  memory.fill(durations, 0, <usize>n * <usize>stride * 2);

  for (let pass: i32 = 0; pass < passes; pass++) {
    const last = pass == passes - 1;
    for (let y: i32 = 0, p: i32 = 0; y < rows; y++) {
      let flags = begins + <usize>(y + 1) * <usize>(pitch + 8) + 4;
      for (let x: i32 = 0; x < pitch; x += 4, p += 4, flags += 4) {
        const own = ownPrices(p, price);
        let isLoaded = false;
        if (pass == 0) {
          loadGroup(p);
          findCandidates(p, own);
          isLoaded = true;
        }
        const found = gather(p);
        if (found > 0) {
          if (!isLoaded) loadGroup(p);
          if (pass == 0) priceAlike(own, found);
          else priceByPlace(own, flags, found);
          cut(found);
          remember(flags, found);
        } else if (last) {
          // Nothing ever changes enough: one segment, from the sums.
          if (!isLoaded) loadGroup(p);
          v128.store(from_ + (<usize>n << 4), i32x4.splat(0));
        }
        if (last) for (let lane: i32 = 0; lane < 4; lane++) write(p + lane, lane);
      }
    }
  }
}

/** Sets the group's begins to what was just cut. `flags` is its place in the first plane. */
function remember(flags: usize, found: i32): void {
  const n = count;
  for (let i: i32 = 1; i <= found; i++) store<u32>(flags + <usize>at(places, i) * beginPlane, 0);
  for (let lane: i32 = 0; lane < 4; lane++) {
    for (let f = begin(n, lane); f > 0; f = begin(f, lane)) {
      store<u8>(flags + <usize>f * beginPlane + <usize>lane, 1);
    }
  }
}

/** Where the segment of one lane that ends before frame `to` begins. */
@inline function begin(to: i32, lane: i32): i32 {
  return load<i32>(from_ + (<usize>to << 4) + (<usize>lane << 2));
}

@inline function neighbourCost(counts: u32, shift: u32): f32 {
  return load<f32>(costs + (<usize>((counts >> shift) & 255) << 2));
}

function priceAlike(own: v128, found: i32): void {
  for (let i: i32 = 1; i <= found; i++) v128.store(prices + (<usize>at(places, i) << 4), own);
}

/** Prices by how many neighbours begin a segment too, and by how far the source itself steps. */
function priceByPlace(own: v128, flags: usize, found: i32): void {
  const row = <usize>(pitch + 8);
  const one = f32x4.splat(1);
  const still = v128.load32_splat(costs + 9 * 4);
  const discount = v128.load32_splat(costs + 10 * 4);
  const least = v128.load32_splat(costs + 11 * 4);
  const stillLevels = v128.load32_splat(costs + 12 * 4);
  for (let i: i32 = 1; i <= found; i++) {
    const f = at(places, i);
    const here = flags + <usize>f * beginPlane;
    // Four counts at once, a byte each: none exceeds eight.
    const counts =
      load<u32>(here - row - 1) +
      load<u32>(here - row) +
      load<u32>(here - row + 1) +
      load<u32>(here - 1) +
      load<u32>(here + 1) +
      load<u32>(here + row - 1) +
      load<u32>(here + row) +
      load<u32>(here + row + 1);
    let share = f32x4.splat(neighbourCost(counts, 0));
    share = f32x4.replace_lane(share, 1, neighbourCost(counts, 8));
    share = f32x4.replace_lane(share, 2, neighbourCost(counts, 16));
    share = f32x4.replace_lane(share, 3, neighbourCost(counts, 24));
    const sums = lumas + (<usize>f << 4);
    const step = f32x4.abs(
      f32x4.sub(f32x4.add(v128.load(sums + 16), v128.load(sums - 16)), f32x4.mul(f32x4.splat(2), v128.load(sums))),
    );
    const moving = f32x4.pmax(least, f32x4.sub(one, f32x4.mul(discount, f32x4.sub(step, stillLevels))));
    const byStep = v128.bitselect(still, moving, f32x4.le(step, stillLevels));
    v128.store(prices + (<usize>f << 4), f32x4.mul(f32x4.mul(own, share), byStep));
  }
}

@inline function at(array: usize, i: i32): i32 {
  return load<i32>(array + (<usize>i << 2));
}

@inline function ownPrices(p: i32, price: f32): v128 {
  const mask = v128.load(masking + (<usize>p << 2));
  return f32x4.mul(f32x4.splat(price), f32x4.mul(mask, mask));
}

/** Running sums of four neighbouring pixels, counted from their first colours. */
function loadGroup(p: i32): void {
  const byte = i32x4.splat(255);
  const first = v128.load(pictures + (<usize>p << 2));
  const r0 = v128.and(first, byte);
  const g0 = v128.and(i32x4.shr_u(first, 8), byte);
  const b0 = v128.and(i32x4.shr_u(first, 16), byte);
  let luma = f32x4.splat(0);
  let blue = luma;
  let red = luma;
  let square = luma;
  v128.store(lumas, luma);
  v128.store(blues, luma);
  v128.store(reds, luma);
  v128.store(squares, luma);
  let from = pictures + (<usize>p << 2);
  const step = <usize>stride << 2;
  let to: usize = 16;
  for (let f: i32 = 0; f < count; f++, from += step, to += 16) {
    const word = v128.load(from);
    const r = f32x4.convert_i32x4_s(i32x4.sub(v128.and(word, byte), r0));
    const g = f32x4.convert_i32x4_s(i32x4.sub(v128.and(i32x4.shr_u(word, 8), byte), g0));
    const b = f32x4.convert_i32x4_s(i32x4.sub(v128.and(i32x4.shr_u(word, 16), byte), b0));
    const y = f32x4.add(
      f32x4.add(f32x4.mul(r, f32x4.splat(LUMA_RED)), f32x4.mul(g, f32x4.splat(LUMA_GREEN))),
      f32x4.mul(b, f32x4.splat(LUMA_BLUE)),
    );
    const u = f32x4.mul(f32x4.sub(b, y), f32x4.splat(BLUE_SCALE));
    const v = f32x4.mul(f32x4.sub(r, y), f32x4.splat(RED_SCALE));
    luma = f32x4.add(luma, y);
    blue = f32x4.add(blue, u);
    red = f32x4.add(red, v);
    square = f32x4.add(square, f32x4.add(f32x4.mul(y, y), f32x4.add(f32x4.mul(u, u), f32x4.mul(v, v))));
    v128.store(lumas + to, luma);
    v128.store(blues + to, blue);
    v128.store(reds + to, red);
    v128.store(squares + to, square);
  }
}

/** Squared length of S[to] − 2 S[at] + S[from] over the three channels: both sides are equally long. */
@inline function evenGain(from: usize, at: usize, to: usize): v128 {
  const two = f32x4.splat(2);
  const r = f32x4.sub(f32x4.add(v128.load(reds + to), v128.load(reds + from)), f32x4.mul(two, v128.load(reds + at)));
  const y = f32x4.sub(
    f32x4.add(v128.load(lumas + to), v128.load(lumas + from)),
    f32x4.mul(two, v128.load(lumas + at)),
  );
  const b = f32x4.sub(f32x4.add(v128.load(blues + to), v128.load(blues + from)), f32x4.mul(two, v128.load(blues + at)));
  return f32x4.add(f32x4.mul(r, r), f32x4.add(f32x4.mul(y, y), f32x4.mul(b, b)));
}

@inline function meanStep(sums: usize, from: i32, middle: i32, to: i32): v128 {
  const before = f32x4.splat(<f32>1 / <f32>(middle - from));
  const after = f32x4.splat(<f32>1 / <f32>(to - middle));
  const s = v128.load(sums + (<usize>middle << 4));
  return f32x4.sub(
    f32x4.mul(f32x4.sub(v128.load(sums + (<usize>to << 4)), s), after),
    f32x4.mul(f32x4.sub(s, v128.load(sums + (<usize>from << 4))), before),
  );
}

/** What cutting the frames from … to − 1 at `middle` saves. */
function cutGain(from: i32, middle: i32, to: i32): v128 {
  const r = meanStep(reds, from, middle, to);
  const y = meanStep(lumas, from, middle, to);
  const b = meanStep(blues, from, middle, to);
  const weight = (<f32>(middle - from) * <f32>(to - middle)) / <f32>(to - from);
  return f32x4.mul(
    f32x4.splat(weight),
    f32x4.add(f32x4.mul(r, r), f32x4.add(f32x4.mul(y, y), f32x4.mul(b, b))),
  );
}

@inline function flag(base: usize, f: i32, gain: v128, wanted: v128): void {
  const place = base + <usize>f;
  store<u8>(place, load<u8>(place) | <u8>i32x4.bitmask(f32x4.ge(gain, wanted)));
}

/** @param own price of a cut. */
function findCandidates(p: i32, own: v128): void {
  const n = count;
  const last = <usize>n << 4;
  const r = v128.load(reds + last);
  const y = v128.load(lumas + last);
  const b = v128.load(blues + last);
  const sum = f32x4.add(f32x4.mul(r, r), f32x4.add(f32x4.mul(y, y), f32x4.mul(b, b)));
  const error = f32x4.sub(v128.load(squares + last), f32x4.mul(sum, f32x4.splat(<f32>1 / <f32>n)));
  const base = candidates + <usize>(p >> 2) * <usize>n;
  for (let length: i32 = 1, share = costs + 13 * 4; length <= 27; length *= 3, share += 4) {
    const wanted = f32x4.mul(own, v128.load32_splat(share));
    // A cut saves at most the whole error.
    if (!v128.any_true(f32x4.ge(error, wanted))) continue;
    const enough = f32x4.mul(wanted, f32x4.splat(<f32>(length * 2)));
    const reach = <usize>length << 4;
    for (let f = length; f <= n - length; f++) {
      const here = <usize>f << 4;
      flag(base, f, evenGain(here - reach, here, here + reach), enough);
    }
    for (let f: i32 = 1; f < length && f < n; f++) {
      flag(base, f, cutGain(0, f, min(n, f + length)), wanted);
      flag(base, n - f, cutGain(max(0, n - f - length), n - f, n), wanted);
    }
    if (length * 2 > n) break;
  }
}

/** Lists in `places` the frames that are a candidate for any of four pixels. @returns how many. */
function gather(p: i32): i32 {
  const base = candidates + <usize>(p >> 2) * <usize>count;
  let found: i32 = 0;
  for (let f: i32 = 1; f < count; f++) {
    if (load<u8>(base + <usize>f) != 0) {
      found++;
      store<i32>(places + (<usize>found << 2), f);
    }
  }
  return found;
}

/** Weighted squared error of one segment of four pixels against their means. */
@inline function lost(from: usize, r1: v128, y1: v128, b1: v128, q1: v128, length: i32): v128 {
  const r = f32x4.sub(r1, v128.load(reds + from));
  const y = f32x4.sub(y1, v128.load(lumas + from));
  const b = f32x4.sub(b1, v128.load(blues + from));
  const sum = f32x4.add(f32x4.mul(r, r), f32x4.add(f32x4.mul(y, y), f32x4.mul(b, b)));
  const share = v128.load32_splat(shares + (<usize>length << 2));
  return f32x4.sub(f32x4.sub(q1, v128.load(squares + from)), f32x4.mul(sum, share));
}

/**
 * The best cuts of four pixels among the frames in `places`, of which there is one at least; they share their
 * candidates.
 */
function cut(found: i32): void {
  const n = count;
  store<i32>(places, 0);
  store<i32>(places + (<usize>(found + 1) << 2), n);
  v128.store(cost, f32x4.splat(0));
  v128.store(prices, f32x4.splat(0));
  for (let i: i32 = 1; i <= found + 1; i++) {
    const to = at(places, i);
    const toAt = <usize>to << 4;
    const r1 = v128.load(reds + toAt);
    const y1 = v128.load(lumas + toAt);
    const b1 = v128.load(blues + toAt);
    const q1 = v128.load(squares + toAt);
    const earliest = max(0, i - WINDOW);
    const floor = v128.load(cost + (<usize>at(places, earliest) << 4));
    let best = f32x4.splat(FAR);
    let bestBegin = i32x4.splat(0);
    for (let k = i - 1; k >= earliest; k--) {
      const from = at(places, k);
      const fromAt = <usize>from << 4;
      const error = lost(fromAt, r1, y1, b1, q1, to - from);
      // Earlier begins lose more, and what comes before them costs at least the floor.
      if (!v128.any_true(f32x4.lt(f32x4.add(error, floor), best))) break;
      const total = f32x4.add(error, f32x4.add(v128.load(cost + fromAt), v128.load(prices + fromAt)));
      bestBegin = v128.bitselect(i32x4.splat(from), bestBegin, f32x4.lt(total, best));
      best = f32x4.pmin(best, total);
    }
    v128.store(cost + toAt, best);
    v128.store(from_ + toAt, bestBegin);
    if (earliest > 0) goOn(at(places, i - 1), to, at(places, earliest));
  }
}

/**
 * Lets each pixel's segment that ends at `last` go on to `to`, when it began before the window and that is
 * better.
 */
function goOn(last: i32, to: i32, earliest: i32): void {
  const toAt = <usize>to << 4;
  for (let lane: i32 = 0; lane < 4; lane++) {
    const shift = <usize>lane << 2;
    const going = begin(last, lane);
    if (going >= earliest) continue;
    const fromAt = <usize>going << 4;
    const r = load<f32>(reds + toAt + shift) - load<f32>(reds + fromAt + shift);
    const y = load<f32>(lumas + toAt + shift) - load<f32>(lumas + fromAt + shift);
    const b = load<f32>(blues + toAt + shift) - load<f32>(blues + fromAt + shift);
    const error =
      load<f32>(squares + toAt + shift) -
      load<f32>(squares + fromAt + shift) -
      (r * r + y * y + b * b) * load<f32>(shares + (<usize>(to - going) << 2));
    const total = error + load<f32>(cost + fromAt + shift) + load<f32>(prices + fromAt + shift);
    if (total < load<f32>(cost + toAt + shift)) {
      store<f32>(cost + toAt + shift, total);
      store<i32>(from_ + toAt + shift, going);
    }
  }
}

function write(p: i32, lane: i32): void {
  const shift = <usize>lane << 2;
  const first = pictures + (<usize>p << 2);
  const r0 = <f32>load<u8>(first) + 0.5;
  const g0 = <f32>load<u8>(first + 1) + 0.5;
  const b0 = <f32>load<u8>(first + 2) + 0.5;
  let to = count;
  while (to > 0) {
    const from = begin(to, lane);
    const share = load<f32>(shares + (<usize>(to - from) << 2));
    const a = (<usize>from << 4) + shift;
    const z = (<usize>to << 4) + shift;
    const out = first + <usize>from * (<usize>stride << 2);
    store<u16>(durations + ((<usize>from * <usize>stride + <usize>p) << 1), <u16>(to - from));
    const luma = (load<f32>(lumas + z) - load<f32>(lumas + a)) * share;
    const redDifference = (load<f32>(reds + z) - load<f32>(reds + a)) * share;
    const blueDifference = (load<f32>(blues + z) - load<f32>(blues + a)) * share;
    let red = luma;
    let green = luma;
    let blue = luma;
    // Rounding must not tint what is grey.
    if (abs(redDifference) >= NO_DIFFERENCE || abs(blueDifference) >= NO_DIFFERENCE) {
      red += redDifference / RED_SCALE;
      blue += blueDifference / BLUE_SCALE;
      green = (luma - LUMA_RED * red - LUMA_BLUE * blue) / LUMA_GREEN;
    }
    store<u8>(out, <u8>max<f32>(0, min<f32>(255, r0 + red)));
    store<u8>(out + 1, <u8>max<f32>(0, min<f32>(255, g0 + green)));
    store<u8>(out + 2, <u8>max<f32>(0, min<f32>(255, b0 + blue)));
    to = from;
  }
}

/** The first byte that is free for `place`. */
export function firstFree(): usize {
  return (__heap_base + 15) & ~15;
}
