import { createFrame, type PixelFrame } from '../pixels/index.js';

/** At full sharpness, how many times over a pixel's distance from its neighbourhood is added. */
const STRONGEST = 1.5;
/** Luma of coded values in 1/256 (ITU-R BT.601, 2.5.1). */
const RED = 77;
const GREEN = 150;
const BLUE = 29;

/**
 * Unsharp masking of luma against its 3 × 3 binomial mean: all channels move alike, so that no colour fringes
 * arise. Clear pixels stay as they are.
 * @param sharpness 0–100.
 */
export function sharpen(picture: PixelFrame, sharpness: number): PixelFrame {
  if (sharpness === 0) return picture;
  const { width, height, rgba } = picture;
  const luma = new Int32Array(width * height);
  for (let p = 0, i = 0; p < luma.length; p++, i += 4) {
    luma[p] = RED * rgba[i] + GREEN * rgba[i + 1] + BLUE * rgba[i + 2];
  }
  const across = new Int32Array(width * height);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) {
      const left = luma[row + Math.max(0, x - 1)];
      const right = luma[row + Math.min(width - 1, x + 1)];
      across[row + x] = left + 2 * luma[row + x] + right;
    }
  }
  const out = createFrame(width, height, rgba.slice());
  const share = (STRONGEST * sharpness) / 100 / 256;
  for (let y = 0; y < height; y++) {
    const above = Math.max(0, y - 1) * width;
    const below = Math.min(height - 1, y + 1) * width;
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      const mean = (across[above + x] + 2 * across[p] + across[below + x]) / 16;
      const change = (luma[p] - mean) * share;
      const i = p * 4;
      for (let c = i; c < i + 3; c++) out.rgba[c] = Math.max(0, Math.min(255, Math.round(rgba[c] + change)));
    }
  }
  return out;
}
