// The settling of one strip of rows, in AssemblyScript (a dialect of TypeScript) with SIMD: four pixels at a time
// where they do the same, one at a time for the cuts. packages/core/src/settle/segment-series.ts is the plain
// reference and says what is done and why; names are the same. Built by `npm run make-kernel` into
// packages/core/src/settle/settle-kernel.ts.

const ROOT_RED: f32 = Mathf.sqrt(2.0 / 7.0);
const ROOT_GREEN: f32 = Mathf.sqrt(4.0 / 7.0);
const ROOT_BLUE: f32 = Mathf.sqrt(1.0 / 7.0);
const CANDIDATE_SHARE: f32 = 0.8;
const WINDOW: i32 = 24;
const FAR: f32 = 3.4e38;

// Where the host laid things out; set by `place`. P is the strip's pixels, rounded up to a multiple of four.
let pictures: usize = 0; // RGBA, N × P × 4 bytes
let durations: usize = 0; // u16, N × P
let masking: usize = 0; // f32, P
let candidates: usize = 0; // u8, P/4 × N: a bit for each of the four pixels
let begins: usize = 0; // u8, N × P
let neighbours: usize = 0; // u8, N × P
let reds: usize = 0; // f32 × 4 lanes, N + 1
let greens: usize = 0;
let blues: usize = 0;
let squares: usize = 0;
let cost: usize = 0; // f32 × 4 lanes, N + 1
let from_: usize = 0; // i32 × 4 lanes, N + 1
let places: usize = 0; // i32, N + 2
let shares: usize = 0; // f32, N + 1
let prices: usize = 0; // f32 × 4 lanes, N
let neighbourCost: usize = 0; // f32, 9
let count: i32 = 0;
let stride: i32 = 0;

/** Lays everything out for N frames of P pixels from `base` on. @returns the first free byte. */
export function place(base: usize, frames: i32, pixels: i32): usize {
  count = frames;
  stride = (pixels + 3) & ~3;
  const n = <usize>frames;
  const p = <usize>stride;
  const lanes = (n + 1) * 16;
  pictures = base;
  durations = pictures + n * p * 4;
  masking = durations + n * p * 2;
  neighbourCost = masking + p * 4;
  reds = (neighbourCost + 48 + 15) & ~15;
  greens = reds + lanes;
  blues = greens + lanes;
  squares = blues + lanes;
  cost = squares + lanes;
  from_ = cost + lanes;
  prices = from_ + lanes;
  places = prices + lanes;
  shares = places + (n + 2) * 4;
  candidates = shares + (n + 1) * 4;
  begins = candidates + (p / 4) * n;
  neighbours = begins + n * p;
  for (let i: i32 = 1; i <= frames; i++) store<f32>(shares + (<usize>i << 2), <f32>1 / <f32>i);
  return neighbours + n * p;
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
export function neighbourCostAt(): usize {
  return neighbourCost;
}

/** Settles the strip that the host has copied in: `width` × `rows` pixels. */
export function settleStrip(width: i32, rows: i32, price: f32): void {
  const pixels = width * rows;
  const n = count;
  const cheapest = load<f32>(neighbourCost + 8 * 4);
  memory.fill(begins, 0, <usize>n * <usize>stride);
  memory.fill(candidates, 0, (<usize>stride / 4) * <usize>n);
  memory.fill(durations, 0, <usize>n * <usize>stride * 2);

  for (let p: i32 = 0; p < pixels; p += 4) {
    const own = ownPrices(p, price);
    loadGroup(p);
    findCandidates(p, f32x4.mul(own, f32x4.splat(cheapest)));
    const found = gather(p);
    if (found == 0) continue;
    for (let f: i32 = 1; f < n; f++) v128.store(prices + (<usize>f << 4), own);
    cut(found);
    for (let lane: i32 = 0; lane < 4 && p + lane < pixels; lane++) {
      for (let f = begin(n, lane); f > 0; f = begin(f, lane)) {
        store<u8>(begins + <usize>f * <usize>stride + <usize>(p + lane), 1);
      }
    }
  }
  for (let f: i32 = 1; f < n; f++) countNeighbours(f, width, rows);
  for (let p: i32 = 0; p < pixels; p += 4) {
    loadGroup(p);
    const found = gather(p);
    if (found > 0) priceByNeighbours(p, ownPrices(p, price));
    cut(found);
    for (let lane: i32 = 0; lane < 4 && p + lane < pixels; lane++) write(p + lane, lane);
  }
}

/** Where the segment of one lane that ends before frame `to` begins. */
@inline function begin(to: i32, lane: i32): i32 {
  return load<i32>(from_ + (<usize>to << 4) + (<usize>lane << 2));
}

@inline function neighbourPrice(counts: u32, shift: u32): f32 {
  return load<f32>(neighbourCost + (<usize>((counts >> shift) & 255) << 2));
}

function priceByNeighbours(p: i32, own: v128): void {
  let near = neighbours + <usize>p + <usize>stride;
  for (let f: i32 = 1; f < count; f++, near += <usize>stride) {
    const counts = load<u32>(near);
    let share = f32x4.splat(neighbourPrice(counts, 0));
    share = f32x4.replace_lane(share, 1, neighbourPrice(counts, 8));
    share = f32x4.replace_lane(share, 2, neighbourPrice(counts, 16));
    share = f32x4.replace_lane(share, 3, neighbourPrice(counts, 24));
    v128.store(prices + (<usize>f << 4), f32x4.mul(own, share));
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
  let red = f32x4.splat(0);
  let green = red;
  let blue = red;
  let square = red;
  v128.store(reds, red);
  v128.store(greens, red);
  v128.store(blues, red);
  v128.store(squares, red);
  let from = pictures + (<usize>p << 2);
  const step = <usize>stride << 2;
  let to: usize = 16;
  for (let f: i32 = 0; f < count; f++, from += step, to += 16) {
    const v = v128.load(from);
    const r = f32x4.mul(f32x4.convert_i32x4_s(i32x4.sub(v128.and(v, byte), r0)), f32x4.splat(ROOT_RED));
    const g = f32x4.mul(
      f32x4.convert_i32x4_s(i32x4.sub(v128.and(i32x4.shr_u(v, 8), byte), g0)),
      f32x4.splat(ROOT_GREEN),
    );
    const b = f32x4.mul(
      f32x4.convert_i32x4_s(i32x4.sub(v128.and(i32x4.shr_u(v, 16), byte), b0)),
      f32x4.splat(ROOT_BLUE),
    );
    red = f32x4.add(red, r);
    green = f32x4.add(green, g);
    blue = f32x4.add(blue, b);
    square = f32x4.add(square, f32x4.add(f32x4.mul(r, r), f32x4.add(f32x4.mul(g, g), f32x4.mul(b, b))));
    v128.store(reds + to, red);
    v128.store(greens + to, green);
    v128.store(blues + to, blue);
    v128.store(squares + to, square);
  }
}

/** Squared length of S[to] − 2 S[at] + S[from] over the three channels: both sides are equally long. */
@inline function evenGain(from: usize, at: usize, to: usize): v128 {
  const two = f32x4.splat(2);
  const r = f32x4.sub(f32x4.add(v128.load(reds + to), v128.load(reds + from)), f32x4.mul(two, v128.load(reds + at)));
  const g = f32x4.sub(
    f32x4.add(v128.load(greens + to), v128.load(greens + from)),
    f32x4.mul(two, v128.load(greens + at)),
  );
  const b = f32x4.sub(f32x4.add(v128.load(blues + to), v128.load(blues + from)), f32x4.mul(two, v128.load(blues + at)));
  return f32x4.add(f32x4.mul(r, r), f32x4.add(f32x4.mul(g, g), f32x4.mul(b, b)));
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
  const g = meanStep(greens, from, middle, to);
  const b = meanStep(blues, from, middle, to);
  const weight = (<f32>(middle - from) * <f32>(to - middle)) / <f32>(to - from);
  return f32x4.mul(
    f32x4.splat(weight),
    f32x4.add(f32x4.mul(r, r), f32x4.add(f32x4.mul(g, g), f32x4.mul(b, b))),
  );
}

@inline function flag(base: usize, f: i32, gain: v128, wanted: v128): void {
  const place = base + <usize>f;
  store<u8>(place, load<u8>(place) | <u8>i32x4.bitmask(f32x4.ge(gain, wanted)));
}

function findCandidates(p: i32, least: v128): void {
  const n = count;
  const last = <usize>n << 4;
  const r = v128.load(reds + last);
  const g = v128.load(greens + last);
  const b = v128.load(blues + last);
  const sum = f32x4.add(f32x4.mul(r, r), f32x4.add(f32x4.mul(g, g), f32x4.mul(b, b)));
  const error = f32x4.sub(v128.load(squares + last), f32x4.mul(sum, f32x4.splat(<f32>1 / <f32>n)));
  if (!v128.any_true(f32x4.gt(error, least))) return;
  const wanted = f32x4.mul(least, f32x4.splat(CANDIDATE_SHARE));
  const base = candidates + <usize>(p >> 2) * <usize>n;
  for (let length: i32 = 1; length <= 9; length *= 3) {
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
@inline function lost(from: usize, r1: v128, g1: v128, b1: v128, q1: v128, length: i32): v128 {
  const r = f32x4.sub(r1, v128.load(reds + from));
  const g = f32x4.sub(g1, v128.load(greens + from));
  const b = f32x4.sub(b1, v128.load(blues + from));
  const sum = f32x4.add(f32x4.mul(r, r), f32x4.add(f32x4.mul(g, g), f32x4.mul(b, b)));
  const share = v128.load32_splat(shares + (<usize>length << 2));
  return f32x4.sub(f32x4.sub(q1, v128.load(squares + from)), f32x4.mul(sum, share));
}

/** The best cuts of four pixels among the frames in `places`; a pixel may cut at its neighbours' candidates too. */
function cut(found: i32): void {
  const n = count;
  v128.store(from_ + (<usize>n << 4), i32x4.splat(0));
  if (found == 0) return;
  store<i32>(places, 0);
  store<i32>(places + (<usize>(found + 1) << 2), n);
  v128.store(cost, f32x4.splat(0));
  v128.store(prices, f32x4.splat(0));
  for (let i: i32 = 1; i <= found + 1; i++) {
    const to = at(places, i);
    const toAt = <usize>to << 4;
    const r1 = v128.load(reds + toAt);
    const g1 = v128.load(greens + toAt);
    const b1 = v128.load(blues + toAt);
    const q1 = v128.load(squares + toAt);
    const earliest = max(0, i - WINDOW);
    const floor = v128.load(cost + (<usize>at(places, earliest) << 4));
    let best = f32x4.splat(FAR);
    let bestBegin = i32x4.splat(0);
    for (let k = i - 1; k >= earliest; k--) {
      const from = at(places, k);
      const fromAt = <usize>from << 4;
      const error = lost(fromAt, r1, g1, b1, q1, to - from);
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

/** Lets each pixel's segment that ends at `last` go on to `to`, when it began before the window and that is better. */
function goOn(last: i32, to: i32, earliest: i32): void {
  const toAt = <usize>to << 4;
  for (let lane: i32 = 0; lane < 4; lane++) {
    const shift = <usize>lane << 2;
    const going = begin(last, lane);
    if (going >= earliest) continue;
    const fromAt = <usize>going << 4;
    const r = load<f32>(reds + toAt + shift) - load<f32>(reds + fromAt + shift);
    const g = load<f32>(greens + toAt + shift) - load<f32>(greens + fromAt + shift);
    const b = load<f32>(blues + toAt + shift) - load<f32>(blues + fromAt + shift);
    const error =
      load<f32>(squares + toAt + shift) -
      load<f32>(squares + fromAt + shift) -
      (r * r + g * g + b * b) * load<f32>(shares + (<usize>(to - going) << 2));
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
    store<u8>(out, <u8>(r0 + ((load<f32>(reds + z) - load<f32>(reds + a)) * share) / ROOT_RED));
    store<u8>(out + 1, <u8>(g0 + ((load<f32>(greens + z) - load<f32>(greens + a)) * share) / ROOT_GREEN));
    store<u8>(out + 2, <u8>(b0 + ((load<f32>(blues + z) - load<f32>(blues + a)) * share) / ROOT_BLUE));
    to = from;
  }
}

function countNeighbours(f: i32, width: i32, rows: i32): void {
  const flags = begins + <usize>f * <usize>stride;
  const out = neighbours + <usize>f * <usize>stride;
  for (let y: i32 = 0; y < rows; y++) {
    for (let x: i32 = 0; x < width; x++) {
      const p = y * width + x;
      let sum: i32 = 0;
      const left = x > 0 ? p - 1 : p;
      const right = x < width - 1 ? p + 1 : p;
      for (let q = left; q <= right; q++) {
        if (y > 0) sum += load<u8>(flags + <usize>(q - width));
        if (q != p) sum += load<u8>(flags + <usize>q);
        if (y < rows - 1) sum += load<u8>(flags + <usize>(q + width));
      }
      store<u8>(out + <usize>p, <u8>sum);
    }
  }
}

/** The first byte that is free for `place`. */
export function firstFree(): usize {
  return (__heap_base + 15) & ~15;
}
