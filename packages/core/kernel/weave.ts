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
