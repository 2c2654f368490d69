// The first colours of a palette and how they are moved between passes of k-means, in AssemblyScript (a dialect of
// TypeScript). packages/core/src/palette/variance-cut.ts and move-centres.ts have the plain ways, which give the same
// to the bit, and say what is done. Built by `npm run make-kernel` into packages/core/src/palette/cluster-kernel.ts.

const MOST_CENTRES: i32 = 256;
const SUMS: i32 = 8;
const TABLES: i32 = 5;

let lumaSteps: i32 = 0;
let differenceSteps: i32 = 0;
let mostDifference: f64 = 0;
let splitGain: f64 = 0;

let side: i32 = 0;
let plane: i32 = 0;
let size: i32 = 0;
let line: usize = 0; // f64, side
let tables: usize = 0; // f64 × 5 planes of the cut's grid: weight, luma, B − Y, R − Y, square
let boxes: usize = 0; // six i32 and a spare one each; see Box
let variances: usize = 0; // f64
let centres: usize = 0; // f64 × 3
let sums: usize = 0; // f64 × 8 a centre, as the passes of k-means give them
let spreads: usize = 0; // f64 × 3: squared error along each axis
let errors: usize = 0; // f64
let losses: usize = 0; // f64
let cheap: usize = 0; // i32
let dear: usize = 0; // i32
let used: usize = 0; // u8
let weights: usize = 0; // f64, bins
let values: usize = 0; // f64 × 3, bins

export function firstFree(): usize {
  return (__heap_base + 15) & ~15;
}

/** Lays the memory out from `at` on. @returns its end; so much must be there. */
export function place(at: usize, bins: i32, luma: i32, difference: i32, most: f64, gain: f64): usize {
  lumaSteps = luma;
  differenceSteps = difference;
  mostDifference = most;
  splitGain = gain;
  side = difference + 1;
  plane = side * side;
  size = (luma + 1) * plane;
  line = at;
  tables = line + <usize>side * 8;
  boxes = tables + <usize>size * 8 * TABLES;
  variances = boxes + MOST_CENTRES * 32;
  centres = variances + MOST_CENTRES * 8;
  sums = centres + MOST_CENTRES * 24;
  spreads = sums + MOST_CENTRES * 8 * SUMS;
  errors = spreads + MOST_CENTRES * 24;
  losses = errors + MOST_CENTRES * 8;
  cheap = losses + MOST_CENTRES * 8;
  dear = cheap + MOST_CENTRES * 4;
  used = dear + MOST_CENTRES * 4;
  weights = used + MOST_CENTRES;
  values = weights + <usize>bins * 8;
  return values + <usize>bins * 24;
}
export function weightsAt(): usize {
  return weights;
}
export function valuesAt(): usize {
  return values;
}
export function centresAt(): usize {
  return centres;
}
export function sumsAt(): usize {
  return sums;
}

// @ts-ignore: decorators are the language's own
@inline
function f64At(array: usize, i: i32): f64 {
  return load<f64>(array + (<usize>i << 3));
}
// @ts-ignore: decorators are the language's own
@inline
function add(table: i32, at: i32, value: f64): void {
  const place = tables + (<usize>(table * size + at) << 3);
  store<f64>(place, load<f64>(place) + value);
}

/** The grid's sums, then their prefix sums along all three axes. */
function cumulate(bins: i32): void {
  memory.fill(tables, 0, <usize>size * 8 * TABLES);
  const lumaScale = <f64>lumaSteps / 256;
  const scale = <f64>differenceSteps / (2 * mostDifference);
  for (let bin = 0; bin < bins; bin++) {
    const weight = f64At(weights, bin);
    const luma = f64At(values, bin * 3);
    const blue = f64At(values, bin * 3 + 1);
    const red = f64At(values, bin * 3 + 2);
    const at =
      (<i32>Math.floor(luma * lumaScale) + 1) * plane +
      (<i32>Math.floor((blue + mostDifference) * scale) + 1) * side +
      <i32>Math.floor((red + mostDifference) * scale) +
      1;
    add(0, at, weight);
    add(1, at, luma * weight);
    add(2, at, blue * weight);
    add(3, at, red * weight);
    add(4, at, (luma * luma + blue * blue + red * red) * weight);
  }
  for (let table = 0; table < TABLES; table++) {
    const from = tables + (<usize>(table * size) << 3);
    for (let y = 1; y <= lumaSteps; y++) {
      memory.fill(line, 0, <usize>side * 8);
      for (let u = 1; u < side; u++) {
        let run: f64 = 0;
        for (let v = 1, at = y * plane + u * side + 1; v < side; v++, at++) {
          run += f64At(from, at);
          const along = f64At(line, v) + run;
          store<f64>(line + (<usize>v << 3), along);
          store<f64>(from + (<usize>at << 3), along + f64At(from, at - plane));
        }
      }
    }
  }
}

// The box that is looked at: lower bounds exclusive, upper inclusive.
let y0: i32 = 0;
let y1: i32 = 0;
let u0: i32 = 0;
let u1: i32 = 0;
let v0: i32 = 0;
let v1: i32 = 0;

function takeBox(box: i32): void {
  const at = boxes + (<usize>box << 5);
  y0 = load<i32>(at);
  y1 = load<i32>(at + 4);
  u0 = load<i32>(at + 8);
  u1 = load<i32>(at + 12);
  v0 = load<i32>(at + 16);
  v1 = load<i32>(at + 20);
}

function keepBox(box: i32): void {
  const at = boxes + (<usize>box << 5);
  store<i32>(at, y0);
  store<i32>(at + 4, y1);
  store<i32>(at + 8, u0);
  store<i32>(at + 12, u1);
  store<i32>(at + 16, v0);
  store<i32>(at + 20, v1);
  store<f64>(variances + (<usize>box << 3), variance());
}

// @ts-ignore: decorators are the language's own
@inline
function volume(table: i32): f64 {
  const from = tables + (<usize>(table * size) << 3);
  const high = y1 * plane;
  const low = y0 * plane;
  return (
    f64At(from, high + u1 * side + v1) -
    f64At(from, high + u1 * side + v0) -
    f64At(from, high + u0 * side + v1) +
    f64At(from, high + u0 * side + v0) -
    f64At(from, low + u1 * side + v1) +
    f64At(from, low + u1 * side + v0) +
    f64At(from, low + u0 * side + v1) -
    f64At(from, low + u0 * side + v0)
  );
}

function energy(): f64 {
  const weight = volume(0);
  if (weight <= 0) return 0;
  const luma = volume(1);
  const blue = volume(2);
  const red = volume(3);
  return (luma * luma + blue * blue + red * red) / weight;
}

function variance(): f64 {
  const single = y1 - y0 == 1 && u1 - u0 == 1 && v1 - v0 == 1;
  return single ? 0 : volume(4) - energy();
}

let best: f64 = 0;
let bestAxis: i32 = 0;
let bestPlace: i32 = 0;

/** Cuts the taken box along an axis: 0 luma, 1 B − Y, 2 R − Y. */
function consider(axis: i32, place: i32): void {
  const upper = axis == 0 ? y1 : axis == 1 ? u1 : v1;
  if (axis == 0) y1 = place;
  else if (axis == 1) u1 = place;
  else v1 = place;
  const lowerWeight = volume(0);
  const lower = energy();
  if (axis == 0) y1 = upper;
  else if (axis == 1) u1 = upper;
  else v1 = upper;
  if (lowerWeight <= 0) return;
  const bound = axis == 0 ? y0 : axis == 1 ? u0 : v0;
  if (axis == 0) y0 = place;
  else if (axis == 1) u0 = place;
  else v0 = place;
  const upperWeight = volume(0);
  const gain = lower + energy();
  if (axis == 0) y0 = bound;
  else if (axis == 1) u0 = bound;
  else v0 = bound;
  if (upperWeight <= 0 || gain <= best) return;
  best = gain;
  bestAxis = axis;
  bestPlace = place;
}

/** Cuts colour space into at most `most` boxes. @returns how many means stand at centresAt. */
export function cut(bins: i32, most: i32): i32 {
  cumulate(bins);
  y0 = 0;
  u0 = 0;
  v0 = 0;
  y1 = lumaSteps;
  u1 = differenceSteps;
  v1 = differenceSteps;
  keepBox(0);
  let count = 1;
  while (count < most) {
    let widest = 0;
    for (let i = 1; i < count; i++) if (f64At(variances, i) > f64At(variances, widest)) widest = i;
    if (f64At(variances, widest) <= 1e-6) break;
    takeBox(widest);
    best = -1;
    for (let at = y0 + 1; at < y1; at++) consider(0, at);
    for (let at = u0 + 1; at < u1; at++) consider(1, at);
    for (let at = v0 + 1; at < v1; at++) consider(2, at);
    if (best < 0) {
      store<f64>(variances + (<usize>widest << 3), 0);
      continue;
    }
    const upper = bestAxis == 0 ? y1 : bestAxis == 1 ? u1 : v1;
    if (bestAxis == 0) y1 = bestPlace;
    else if (bestAxis == 1) u1 = bestPlace;
    else v1 = bestPlace;
    keepBox(widest);
    if (bestAxis == 0) {
      y0 = bestPlace;
      y1 = upper;
    } else if (bestAxis == 1) {
      u0 = bestPlace;
      u1 = upper;
    } else {
      v0 = bestPlace;
      v1 = upper;
    }
    keepBox(count++);
  }
  let means = 0;
  for (let box = 0; box < count; box++) {
    takeBox(box);
    const weight = volume(0);
    if (weight <= 0) continue;
    for (let c = 0; c < 3; c++) setCentre(means, c, volume(c + 1) / weight);
    means++;
  }
  return means;
}

// @ts-ignore: decorators are the language's own
@inline
function centre(i: i32, c: i32): f64 {
  return f64At(centres, i * 3 + c);
}
// @ts-ignore: decorators are the language's own
@inline
function setCentre(i: i32, c: i32, value: f64): void {
  store<f64>(centres + (<usize>(i * 3 + c) << 3), value);
}
// @ts-ignore: decorators are the language's own
@inline
function sum(i: i32, part: i32): f64 {
  return f64At(sums, i * SUMS + part);
}

/** Lists 0 … count − 1 by rising keys, equal ones in their order; falling where `falls`. */
function order(list: usize, keys: usize, count: i32, falls: bool): void {
  for (let i = 0; i < count; i++) {
    const key = f64At(keys, i);
    let k = i;
    for (; k > 0; k--) {
      const other = f64At(keys, load<i32>(list + (<usize>(k - 1) << 2)));
      if (falls ? other >= key : other <= key) break;
      store<i32>(list + (<usize>k << 2), load<i32>(list + (<usize>(k - 1) << 2)));
    }
    store<i32>(list + (<usize>k << 2), i);
  }
}

/**
 * Moves centres to the means of what belongs to them, as the sums at sumsAt say; then, if wanted, those that are
 * missed least into the clusters that err most. @returns the squared error before that.
 */
export function move(count: i32, relocates: bool): f64 {
  let error: f64 = 0;
  for (let i = 0; i < count; i++) {
    for (let c = 0; c < 3; c++) {
      const share = sum(i, c == 0 ? 0 : 1);
      if (sum(i, 0) > 0) setCentre(i, c, sum(i, 2 + c) / share);
      const off = Math.max(0, sum(i, 5 + c) - share * (centre(i, c) * centre(i, c)));
      store<f64>(spreads + (<usize>(i * 3 + c) << 3), off);
      error += off;
    }
  }
  if (relocates) relocate(count);
  return error;
}

function relocate(count: i32): void {
  for (let i = 0; i < count; i++) {
    store<f64>(
      errors + (<usize>i << 3),
      f64At(spreads, i * 3) + f64At(spreads, i * 3 + 1) + f64At(spreads, i * 3 + 2),
    );
    store<f64>(losses + (<usize>i << 3), lossWithout(i, count));
  }
  order(cheap, losses, count, false);
  order(dear, errors, count, true);
  memory.fill(used, 0, count);
  for (let k = 0, d = 0; k < count && d < count; k++) {
    const from = load<i32>(cheap + (<usize>k << 2));
    if (load<u8>(used + from) != 0) continue;
    while (d < count) {
      const other = load<i32>(dear + (<usize>d << 2));
      if (load<u8>(used + other) == 0 && other != from) break;
      d++;
    }
    if (d == count) break;
    const into = load<i32>(dear + (<usize>d << 2));
    if (f64At(errors, into) <= 0 || f64At(losses, from) > splitGain * f64At(errors, into)) break;
    store<u8>(used + from, 1);
    store<u8>(used + into, 1);
    splitInto(from, into);
  }
}

function lossWithout(i: i32, count: i32): f64 {
  const weight = sum(i, 0);
  const chroma = sum(i, 1);
  if (weight == 0) return 0;
  let nearest = Infinity;
  for (let j = 0; j < count; j++) {
    if (j == i) continue;
    const y = centre(i, 0) - centre(j, 0);
    const u = centre(i, 1) - centre(j, 1);
    const v = centre(i, 2) - centre(j, 2);
    nearest = Math.min(nearest, weight * y * y + chroma * (u * u + v * v));
  }
  return nearest;
}

function splitInto(from: i32, into: i32): void {
  let widest = 0;
  for (let c = 1; c < 3; c++) if (f64At(spreads, into * 3 + c) > f64At(spreads, into * 3 + widest)) widest = c;
  const step = Math.sqrt(f64At(spreads, into * 3 + widest) / sum(into, widest == 0 ? 0 : 1)) * 0.8;
  for (let c = 0; c < 3; c++) setCentre(from, c, centre(into, c));
  setCentre(from, widest, centre(from, widest) + step);
  setCentre(into, widest, centre(into, widest) - step);
}
