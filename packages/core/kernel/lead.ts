// Pictures led along a flow, in AssemblyScript (a dialect of TypeScript) with SIMD: the four channels of a pixel at a
// time. packages/core/src/motion/flow/plain-leading.ts has the plain way, which gives the same to the bit; names are the
// same. Built by `npm run make-kernel` into packages/core/src/motion/flow/lead-kernel.ts.

// @ts-ignore: decorators are the language's own
@inline
function within(place: f32, count: i32): f32 {
  return max<f32>(0, min<f32>(<f32>(count - 1), place));
}

/** A plane between its pixels, bilinear, the border repeated. */
// @ts-ignore: decorators are the language's own
@inline
function sampled(plane: usize, width: i32, height: i32, x: f32, y: f32): f32 {
  const atX = within(x, width);
  const atY = within(y, height);
  const left = <i32>atX;
  const top = <i32>atY;
  const over = atX - <f32>left;
  const down = atY - <f32>top;
  const at = plane + (<usize>(top * width + left) << 2);
  const right: usize = left < width - 1 ? 4 : 0;
  const below: usize = top < height - 1 ? <usize>width << 2 : 0;
  const upper = load<f32>(at) * (1 - over) + load<f32>(at + right) * over;
  const lower = load<f32>(at + below) * (1 - over) + load<f32>(at + below + right) * over;
  return upper * (1 - down) + lower * down;
}

/** What of a flow passes through each place when everything is so far on its way. */
export function carry(
  u: usize,
  v: usize,
  outU: usize,
  outV: usize,
  width: i32,
  height: i32,
  moment: f32,
  steps: i32,
): void {
  for (let y = 0, p: usize = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p += 4) {
      let across = load<f32>(u + p);
      let down = load<f32>(v + p);
      for (let step = 0; step < steps; step++) {
        const fromX = <f32>x - moment * across;
        const fromY = <f32>y - moment * down;
        across = sampled(u, width, height, fromX, fromY);
        down = sampled(v, width, height, fromX, fromY);
      }
      store<f32>(outU + p, across);
      store<f32>(outV + p, down);
    }
  }
}

/** How far two pictures are from each other, each led to a moment. */
export function apart(
  a: usize,
  b: usize,
  u: usize,
  v: usize,
  out: usize,
  width: i32,
  height: i32,
  gone: f32,
  left: f32,
): void {
  for (let y = 0, p: usize = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p += 4) {
      const across = load<f32>(u + p);
      const down = load<f32>(v + p);
      const one = sampled(a, width, height, <f32>x - gone * across, <f32>y - gone * down);
      const other = sampled(b, width, height, <f32>x + left * across, <f32>y + left * down);
      store<f32>(out + p, abs<f32>(one - other));
    }
  }
}

/** Weights of the four samples around a place between the second and the third (Catmull and Rom 1974). */
// @ts-ignore: decorators are the language's own
@inline
function weights(t: f32): v128 {
  return f32x4(
    ((-0.5 * t + 1) * t - 0.5) * t,
    (1.5 * t - 2.5) * t * t + 1,
    ((-1.5 * t + 2) * t + 0.5) * t,
    (0.5 * t - 0.5) * t * t,
  );
}

/** Red, green and blue times alpha, and 255 times alpha; alpha as 0–1. An opaque pixel is what it is. */
// @ts-ignore: decorators are the language's own
@inline
function premultiplied(levels: v128): v128 {
  const alpha = f32x4.extract_lane(levels, 3);
  if (alpha == 255) return levels;
  return f32x4.mul(f32x4.replace_lane(levels, 3, 255), f32x4.splat(alpha / 255));
}

// @ts-ignore: decorators are the language's own
@inline
function clamped(place: i32, count: i32): i32 {
  return max<i32>(0, min<i32>(count - 1, place));
}

// @ts-ignore: decorators are the language's own
@inline
function mixed4(w0: v128, w1: v128, w2: v128, w3: v128, a: v128, b: v128, c: v128, d: v128): v128 {
  let line = f32x4.mul(w0, a);
  line = f32x4.add(line, f32x4.mul(w1, b));
  line = f32x4.add(line, f32x4.mul(w2, c));
  return f32x4.add(line, f32x4.mul(w3, d));
}

/** A picture between its pixels, by cubic convolution; what is clear brings no colour in. */
function cubic(frame: usize, width: i32, height: i32, x: f32, y: f32, opaque: bool): v128 {
  const atX = within(x, width);
  const atY = within(y, height);
  const left = <i32>atX;
  const top = <i32>atY;
  const across = weights(atX - <f32>left);
  const down = weights(atY - <f32>top);
  const isInside = left > 0 && left < width - 2;
  const w0 = i8x16.shuffle(across, across, 0, 1, 2, 3, 0, 1, 2, 3, 0, 1, 2, 3, 0, 1, 2, 3);
  const w1 = i8x16.shuffle(across, across, 4, 5, 6, 7, 4, 5, 6, 7, 4, 5, 6, 7, 4, 5, 6, 7);
  const w2 = i8x16.shuffle(across, across, 8, 9, 10, 11, 8, 9, 10, 11, 8, 9, 10, 11, 8, 9, 10, 11);
  const w3 = i8x16.shuffle(across, across, 12, 13, 14, 15, 12, 13, 14, 15, 12, 13, 14, 15, 12, 13, 14, 15);
  let turning = down;
  let sum = f32x4.splat(0);
  for (let j = 0; j < 4; j++) {
    const row = frame + (<usize>(clamped(top + j - 1, height) * width) << 2);
    let bytes: v128;
    if (isInside) bytes = v128.load(row + (<usize>(left - 1) << 2));
    else {
      bytes = v128.load32_zero(row + (<usize>clamped(left - 1, width) << 2));
      bytes = v128.load32_lane(row + (<usize>clamped(left, width) << 2), bytes, 1);
      bytes = v128.load32_lane(row + (<usize>clamped(left + 1, width) << 2), bytes, 2);
      bytes = v128.load32_lane(row + (<usize>clamped(left + 2, width) << 2), bytes, 3);
    }
    const low = i16x8.extend_low_i8x16_u(bytes);
    const high = i16x8.extend_high_i8x16_u(bytes);
    const first = f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(low));
    const second = f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(low));
    const third = f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(high));
    const fourth = f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(high));
    const line = opaque
      ? mixed4(w0, w1, w2, w3, first, second, third, fourth)
      : mixed4(
          w0,
          w1,
          w2,
          w3,
          premultiplied(first),
          premultiplied(second),
          premultiplied(third),
          premultiplied(fourth),
        );
    const weight = i8x16.shuffle(turning, turning, 0, 1, 2, 3, 0, 1, 2, 3, 0, 1, 2, 3, 0, 1, 2, 3);
    turning = i8x16.shuffle(turning, turning, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 0, 1, 2, 3);
    sum = f32x4.add(sum, f32x4.mul(weight, line));
  }
  if (opaque) return sum;
  // Near edges of what is clear the sum goes beyond what there can be; its colour stays what it is.
  const alpha = f32x4.extract_lane(sum, 3);
  const kept = max<f32>(0, min<f32>(255, alpha));
  return f32x4.mul(sum, f32x4.splat(alpha > 0 ? kept / alpha : 0));
}

/** Two pictures led to a moment between them and mixed. @param opaque whether nothing in them can be seen through. */
export function lead(
  a: usize,
  b: usize,
  u: usize,
  v: usize,
  shares: usize,
  out: usize,
  width: i32,
  height: i32,
  gone: f32,
  left: f32,
  opaque: bool,
): void {
  const zero = f32x4.splat(0);
  const full = f32x4.splat(255);
  for (let y = 0, p: usize = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p += 4) {
      const across = load<f32>(u + p);
      const down = load<f32>(v + p);
      const share = load<f32>(shares + p);
      let sum = zero;
      if (share < 1) sum = cubic(a, width, height, <f32>x - gone * across, <f32>y - gone * down, opaque);
      if (share > 0) {
        const other = cubic(b, width, height, <f32>x + left * across, <f32>y + left * down, opaque);
        sum =
          share < 1 ? f32x4.add(sum, f32x4.mul(f32x4.splat(share), f32x4.sub(other, sum))) : other;
      }
      if (!opaque) {
        const alpha = f32x4.extract_lane(sum, 3);
        const colour = f32x4.mul(sum, f32x4.splat(alpha > 0 ? 255 / alpha : 0));
        sum = f32x4.replace_lane(colour, 3, alpha);
      }
      const seen = f32x4.floor(f32x4.add(sum, f32x4.splat(0.5)));
      const levels = i32x4.trunc_sat_f32x4_s(f32x4.max(zero, f32x4.min(full, seen)));
      const bytes = i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_s(levels, levels), i16x8.splat(0));
      store<u32>(out + p, <u32>i32x4.extract_lane(bytes, 0));
    }
  }
}

