import type { PixelFrame } from '../pixels/index.js';

/** Luma and colour differences of a frame, full range BT.601 (as JPEG takes them), one float a pixel. */
export interface LumaChroma {
  readonly luma: Float32Array;
  readonly blueDifference: Float32Array;
  readonly redDifference: Float32Array;
}

export function toLumaChroma({ rgba, width, height }: PixelFrame): LumaChroma {
  const count = width * height;
  const luma = new Float32Array(count);
  const blueDifference = new Float32Array(count);
  const redDifference = new Float32Array(count);
  for (let p = 0, at = 0; p < count; p++, at += 4) {
    const r = rgba[at];
    const g = rgba[at + 1];
    const b = rgba[at + 2];
    const y = 0.299 * r + 0.587 * g + 0.114 * b;
    luma[p] = y;
    blueDifference[p] = (b - y) * 0.564 + 128;
    redDifference[p] = (r - y) * 0.713 + 128;
  }
  return { luma, blueDifference, redDifference };
}
