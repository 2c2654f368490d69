// Every pixel of a frame through a table of colours by tetrahedral interpolation, in AssemblyScript (a dialect of
// TypeScript) with SIMD: a pixel's channels at a time. packages/core/src/colour/apply-table.ts is the plain
// reference and says what is done and why; names are the same. Built by `npm run make-kernel` into
// packages/core/src/colour/colour-kernel.ts.

// Where the host laid things out; set by `place`.
let axes: usize = 0; // u32: offset and key, for 256 levels of red, green and blue
let nodes: usize = 0; // i16 × 4 lanes, 1/32 levels
let pixels: usize = 0; // RGBA, coloured in place

/** A whole cell, and what a level is shifted by: 14 bits of fraction, 5 of the nodes. */
const ONE: u32 = 16384;
const SHIFT: i32 = 19;
const HALF: i32 = 1 << (SHIFT - 1);

/** Lays everything out. @returns the first free byte. */
export function place(nodeCount: i32, pixelCount: i32): usize {
  axes = (__heap_base + 15) & ~15;
  nodes = axes + 3 * 256 * 8;
  pixels = (nodes + <usize>nodeCount * 8 + 15) & ~15;
  return pixels + <usize>((pixelCount + 3) & ~3) * 4;
}

export function axesAt(): usize {
  return axes;
}
export function nodesAt(): usize {
  return nodes;
}
export function pixelsAt(): usize {
  return pixels;
}

/** Four corners against their weights: a channel a lane, in levels. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function mixed(
  corner0: usize,
  corner1: usize,
  corner2: usize,
  corner3: usize,
  near: v128,
  far: v128,
  half: v128,
): v128 {
  // Channels of two corners side by side, each pair against its two weights.
  const one = i16x8.shuffle(v128.load64_zero(corner0), v128.load64_zero(corner1), 0, 8, 1, 9, 2, 10, 3, 11);
  const other = i16x8.shuffle(v128.load64_zero(corner2), v128.load64_zero(corner3), 0, 8, 1, 9, 2, 10, 3, 11);
  const sum = i32x4.add(i32x4.dot_i16x8_s(one, near), i32x4.dot_i16x8_s(other, far));
  return i32x4.shr_s(i32x4.add(sum, half), SHIFT);
}

/** Four pixels at a time: what can be is done for all of them at once. @param pixelCount may be rounded up. */
export function colour(pixelCount: i32): void {
  const end = pixels + <usize>pixelCount * 4;
  const greens = axes + 256 * 8;
  const blues = axes + 512 * 8;
  const one = i32x4.splat(ONE);
  const low = i32x4.splat(0xffff);
  const half = i32x4.splat(HALF);
  const alpha = i32x4.splat(0xff000000);
  const start = i32x4.splat(<i32>nodes);
  for (let at = pixels; at < end; at += 16) {
    // Of each channel, the offset and the key of two pixels, twice.
    let red = i32x4.splat(0);
    let red2 = red;
    let green = red;
    let green2 = red;
    let blue = red;
    let blue2 = red;
    const p0 = load<u32>(at, 0);
    red = v128.load64_lane(axes + <usize>((p0 << 3) & 0x7f8), red, 0);
    green = v128.load64_lane(greens + <usize>((p0 >> 5) & 0x7f8), green, 0);
    blue = v128.load64_lane(blues + <usize>((p0 >> 13) & 0x7f8), blue, 0);
    const p1 = load<u32>(at, 4);
    red = v128.load64_lane(axes + <usize>((p1 << 3) & 0x7f8), red, 1);
    green = v128.load64_lane(greens + <usize>((p1 >> 5) & 0x7f8), green, 1);
    blue = v128.load64_lane(blues + <usize>((p1 >> 13) & 0x7f8), blue, 1);
    const p2 = load<u32>(at, 8);
    red2 = v128.load64_lane(axes + <usize>((p2 << 3) & 0x7f8), red2, 0);
    green2 = v128.load64_lane(greens + <usize>((p2 >> 5) & 0x7f8), green2, 0);
    blue2 = v128.load64_lane(blues + <usize>((p2 >> 13) & 0x7f8), blue2, 0);
    const p3 = load<u32>(at, 12);
    red2 = v128.load64_lane(axes + <usize>((p3 << 3) & 0x7f8), red2, 1);
    green2 = v128.load64_lane(greens + <usize>((p3 >> 5) & 0x7f8), green2, 1);
    blue2 = v128.load64_lane(blues + <usize>((p3 >> 13) & 0x7f8), blue2, 1);
    const corner = i32x4.add(
      i32x4.add(start, i32x4.shuffle(red, red2, 0, 2, 4, 6)),
      i32x4.add(i32x4.shuffle(green, green2, 0, 2, 4, 6), i32x4.shuffle(blue, blue2, 0, 2, 4, 6)),
    );
    red = i32x4.shuffle(red, red2, 1, 3, 5, 7);
    green = i32x4.shuffle(green, green2, 1, 3, 5, 7);
    blue = i32x4.shuffle(blue, blue2, 1, 3, 5, 7);
    // Keys in falling order.
    const upper = i32x4.max_u(red, green);
    const lower = i32x4.min_u(red, green);
    const first = i32x4.max_u(upper, blue);
    const rest = i32x4.min_u(upper, blue);
    const second = i32x4.max_u(lower, rest);
    const third = i32x4.min_u(lower, rest);
    const corner1 = i32x4.add(corner, v128.and(first, low));
    const corner2 = i32x4.add(corner1, v128.and(second, low));
    const corner3 = i32x4.add(corner2, v128.and(third, low));
    const f1 = i32x4.shr_u(first, 16);
    const f2 = i32x4.shr_u(second, 16);
    const f3 = i32x4.shr_u(third, 16);
    // Two weights to each lane.
    const near = v128.or(i32x4.sub(one, f1), i32x4.shl(i32x4.sub(f1, f2), 16));
    const far = v128.or(i32x4.sub(f2, f3), i32x4.shl(f3, 16));
    const pixel0 = mixed(
      <usize>i32x4.extract_lane(corner, 0),
      <usize>i32x4.extract_lane(corner1, 0),
      <usize>i32x4.extract_lane(corner2, 0),
      <usize>i32x4.extract_lane(corner3, 0),
      i32x4.shuffle(near, near, 0, 0, 0, 0),
      i32x4.shuffle(far, far, 0, 0, 0, 0),
      half,
    );
    const pixel1 = mixed(
      <usize>i32x4.extract_lane(corner, 1),
      <usize>i32x4.extract_lane(corner1, 1),
      <usize>i32x4.extract_lane(corner2, 1),
      <usize>i32x4.extract_lane(corner3, 1),
      i32x4.shuffle(near, near, 1, 1, 1, 1),
      i32x4.shuffle(far, far, 1, 1, 1, 1),
      half,
    );
    const pixel2 = mixed(
      <usize>i32x4.extract_lane(corner, 2),
      <usize>i32x4.extract_lane(corner1, 2),
      <usize>i32x4.extract_lane(corner2, 2),
      <usize>i32x4.extract_lane(corner3, 2),
      i32x4.shuffle(near, near, 2, 2, 2, 2),
      i32x4.shuffle(far, far, 2, 2, 2, 2),
      half,
    );
    const pixel3 = mixed(
      <usize>i32x4.extract_lane(corner, 3),
      <usize>i32x4.extract_lane(corner1, 3),
      <usize>i32x4.extract_lane(corner2, 3),
      <usize>i32x4.extract_lane(corner3, 3),
      i32x4.shuffle(near, near, 3, 3, 3, 3),
      i32x4.shuffle(far, far, 3, 3, 3, 3),
      half,
    );
    const colours = i8x16.narrow_i16x8_u(
      i16x8.narrow_i32x4_s(pixel0, pixel1),
      i16x8.narrow_i32x4_s(pixel2, pixel3),
    );
    v128.store(at, v128.bitselect(v128.load(at), colours, alpha));
  }
}
