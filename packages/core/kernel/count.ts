// How often each colour is shown, in AssemblyScript (a dialect of TypeScript).
// packages/core/src/palette/colour-histogram.ts has the plain way, which gives the same to the bit, and says what is
// counted. Built by `npm run make-kernel` into packages/core/src/palette/count-kernel.ts.

const LUMA_RED: f64 = 0.299;
const LUMA_GREEN: f64 = 0.587;
const LUMA_BLUE: f64 = 0.114;

let pixels: i32 = 0;
let rgba: usize = 0; // u32
let masking: usize = 0; // f32
let durations: usize = 0; // u16
let chroma: usize = 0; // u8
let shares: usize = 0; // f64, classes of chroma
let binOf: usize = 0; // i32, steps, along luma first: pictures have few hues; the bin of each, counted from 1
let sums: usize = 0; // f64 × 5 a bin; the last, so that it may grow
let lumaSteps: i32 = 0;
let differenceSteps: i32 = 0;
let mostDifference: f64 = 0;
let blueScale: f64 = 0;
let redScale: f64 = 0;
let bins: i32 = 0;

export function firstFree(): usize {
  return (__heap_base + 15) & ~15;
}

/** Lays the memory out from `at` on. @returns where the sums of bins begin; 40 bytes each must be there. */
export function place(at: usize, count: i32, luma: i32, steps: i32): usize {
  pixels = count;
  lumaSteps = luma;
  differenceSteps = steps;
  const p = (<usize>count + 15) & ~15;
  rgba = at;
  masking = rgba + p * 4;
  durations = masking + p * 4;
  chroma = durations + p * 2;
  shares = chroma + p;
  binOf = shares + 256;
  sums = (binOf + <usize>(lumaSteps * steps * steps) * 4 + 15) & ~15;
  return sums;
}
/** To be called once, when the memory is there and as new: its zeros say that no bin is in use. */
export function begin(blue: f64, red: f64, most: f64): void {
  blueScale = blue;
  redScale = red;
  mostDifference = most;
  bins = 0;
}
export function rgbaAt(): usize {
  return rgba;
}
export function maskingAt(): usize {
  return masking;
}
export function durationsAt(): usize {
  return durations;
}
export function chromaAt(): usize {
  return chroma;
}
export function sharesAt(): usize {
  return shares;
}

// @ts-ignore: decorators are the language's own
@inline
function add(at: usize, value: f64): void {
  store<f64>(at, load<f64>(at) + value);
}

/** Counts the segments that begin in the frame. @returns the bins in use. */
export function countFrame(): i32 {
  for (let p = 0; p < pixels; p++) {
    const duration = load<u16>(durations + (<usize>p << 1));
    if (duration == 0) continue;
    const word = load<u32>(rgba + (<usize>p << 2));
    const r = <f64>(word & 255);
    const b = <f64>((word >> 16) & 255);
    const luma = LUMA_RED * r + LUMA_GREEN * <f64>((word >> 8) & 255) + LUMA_BLUE * b;
    const blue = (b - luma) * blueScale;
    const red = (r - luma) * redScale;
    const step =
      ((<i32>(blue + mostDifference) >> 1) * differenceSteps + (<i32>(red + mostDifference) >> 1)) * lumaSteps +
      <i32>luma;
    const place = binOf + (<usize>step << 2);
    let bin = load<i32>(place);
    if (bin == 0) {
      bin = ++bins;
      store<i32>(place, bin);
      memory.fill(sums + <usize>(bin - 1) * 40, 0, 40);
    }
    const share = <f64>duration / <f64>load<f32>(masking + (<usize>p << 2));
    const chromaShare = share * load<f64>(shares + (<usize>load<u8>(chroma + p) << 3));
    const sum = sums + <usize>(bin - 1) * 40;
    add(sum, share);
    add(sum + 8, luma * share);
    add(sum + 16, chromaShare);
    add(sum + 24, blue * chromaShare);
    add(sum + 32, red * chromaShare);
  }
  return bins;
}
