import { createFrame, isOpaque, type PixelFrame, pixelWords } from '../pixels/index.js';
import type { LumaPicture } from './luma-picture.js';
import type { Similarity } from './register.js';

/**
 * A frame as it lies on the plate: each pixel is fetched from where it is in the frame (bilinear, weighted by
 * alpha); what the frame does not show comes from the plate.
 * @param wanted one byte a pixel; where it is 0 the plate is good enough, and nothing is fetched.
 */
export function warpFrame(
  frame: PixelFrame,
  similarity: Similarity,
  plate: PixelFrame,
  wanted?: Uint8Array,
): PixelFrame {
  const { x, y, stretch, turn } = similarity;
  if (x === 0 && y === 0 && stretch === 0 && turn === 0) return frame;
  const warped = createFrame(frame.width, frame.height, wanted ? plate.rgba.slice() : undefined);
  if (isOpaque(frame.rgba)) warpOpaque(frame, similarity, plate, warped, wanted);
  else warpSeeThrough(frame, similarity, plate, warped, wanted);
  return warped;
}

/** Steps between two pixels: finer ones are not seen, and four weights then fit two channels of one word. */
const FINE = 16;
/** Red and blue, or green and alpha, of a pixel's word. */
const PAIR = 0x00ff00ff;
/** Half of the weights' sum in both channels. */
const ROUND = 0x00800080;

/**
 * Pixels that share their weights where the first and the last of them do: along a row these change slowly
 * and one way.
 */
const RUN = 32;

/** Whole words at a time, their weights in sixteenths. */
function warpOpaque(
  frame: PixelFrame,
  { x, y, stretch, turn }: Similarity,
  plate: PixelFrame,
  warped: PixelFrame,
  wanted: Uint8Array | undefined,
): void {
  const { width, height } = frame;
  const from = signedWords(frame);
  const held = signedWords(plate);
  const out = signedWords(warped);
  const across = 1 + stretch;
  for (let row = 0; row < height; row++) {
    const v = (row + 0.5 - height / 2) / width;
    const startX = (0.5 - turn * v + x) * width - 0.5 + across * (0.5 - width / 2);
    const startY = (across * v + y) * width + height / 2 - 0.5 + turn * (0.5 - width / 2);
    for (let first = 0; first < width; first += RUN) {
      const end = Math.min(width, first + RUN);
      const p = row * width;
      const now = neighboursOf(startX + across * first, startY + turn * first, width, height);
      const last = neighboursOf(startX + across * (end - 1), startY + turn * (end - 1), width, height);
      const isRun =
        now >= 0 && last - now === (end - 1 - first) * PLACE && (now & SHARES) === (last & SHARES);
      if (isRun) {
        mixRun(from, out, p + first, p + end, Math.floor(now / PLACE), width, now & SHARES, wanted);
        continue;
      }
      for (let column = first; column < end; column++) {
        if (wanted !== undefined && wanted[p + column] === 0) continue;
        const at = neighboursOf(startX + across * column, startY + turn * column, width, height);
        if (at < 0) out[p + column] = held[p + column];
        else
          mixRun(
            from,
            out,
            p + column,
            p + column + 1,
            Math.floor(at / PLACE),
            width,
            at & SHARES,
            undefined,
          );
      }
    }
  }
}

/** Signed, so that the engine keeps them as whole numbers. */
function signedWords(frame: PixelFrame): Int32Array {
  const { buffer, byteOffset, length } = pixelWords(frame);
  return new Int32Array(buffer, byteOffset, length);
}

/**
 * A place and its two shares in one number: the pixel, then five bits for the right neighbour and five for
 * the lower one.
 */
const PLACE = 1024;
const SHARES = 1023;

/**
 * Where a position lies: its upper left pixel and the shares of the right and lower neighbours; −1 outside
 * the frame.
 */
function neighboursOf(px: number, py: number, width: number, height: number): number {
  // Half a pixel of the border may be repeated.
  if (px < -0.5 || py < -0.5 || px > width - 0.5 || py > height - 0.5) return -1;
  const left = px < 0 ? 0 : px > width - 2 ? width - 2 : px | 0;
  const top = py < 0 ? 0 : py > height - 2 ? height - 2 : py | 0;
  const right = px < left ? 0 : px > left + 1 ? FINE : ((px - left) * FINE + 0.5) | 0;
  const below = py < top ? 0 : py > top + 1 ? FINE : ((py - top) * FINE + 0.5) | 0;
  return (top * width + left) * PLACE + right * 32 + below;
}

/** Pixels `to` … `end` − 1 of a row from those at `q` on, all with the same weights. */
function mixRun(
  from: Int32Array,
  out: Int32Array,
  to: number,
  end: number,
  q: number,
  width: number,
  shares: number,
  wanted: Uint8Array | undefined,
): void {
  const right = shares >> 5;
  const below = shares & 31;
  const wa = (FINE - right) * (FINE - below);
  const wb = right * (FINE - below);
  const wc = (FINE - right) * below;
  const wd = right * below;
  for (let p = to, i = q; p < end; p++, i++) {
    if (wanted !== undefined && wanted[p] === 0) continue;
    const one = from[i];
    const two = from[i + 1];
    const three = from[i + width];
    const four = from[i + width + 1];
    // Sums fill all 32 bits; as whole numbers they wrap, which the shifts and masks below undo.
    const even =
      (Math.imul(one & PAIR, wa) +
        Math.imul(two & PAIR, wb) +
        Math.imul(three & PAIR, wc) +
        Math.imul(four & PAIR, wd) +
        ROUND) |
      0;
    const odd =
      (Math.imul((one >>> 8) & PAIR, wa) +
        Math.imul((two >>> 8) & PAIR, wb) +
        Math.imul((three >>> 8) & PAIR, wc) +
        Math.imul((four >>> 8) & PAIR, wd) +
        ROUND) |
      0;
    out[p] = ((even >>> 8) & PAIR) | (odd & ~PAIR);
  }
}

/** Pixel by pixel, weighted by alpha. */
function warpSeeThrough(
  frame: PixelFrame,
  { x, y, stretch, turn }: Similarity,
  plate: PixelFrame,
  warped: PixelFrame,
  wanted: Uint8Array | undefined,
): void {
  const { width, height } = frame;
  const across = 1 + stretch;
  for (let row = 0, p = 0; row < height; row++) {
    const v = (row + 0.5 - height / 2) / width;
    for (let column = 0; column < width; column++, p++) {
      if (wanted !== undefined && wanted[p] === 0) continue;
      const u = (column + 0.5) / width - 0.5;
      const px = (across * u - turn * v + x + 0.5) * width - 0.5;
      const py = (turn * u + across * v + y) * width + height / 2 - 0.5;
      if (px < -0.5 || py < -0.5 || px > width - 0.5 || py > height - 0.5) {
        warped.rgba.set(plate.rgba.subarray(p * 4, p * 4 + 4), p * 4);
        continue;
      }
      const left = Math.max(0, Math.min(width - 2, Math.floor(px)));
      const top = Math.max(0, Math.min(height - 2, Math.floor(py)));
      const right = Math.max(0, Math.min(1, px - left));
      const below = Math.max(0, Math.min(1, py - top));
      const q = top * width + left;
      mixFour(frame.rgba, q * 4, (q + width) * 4, right, below, warped.rgba, p * 4);
    }
  }
}

/** Four neighbours by their nearness; where not all are opaque, by their alpha too. */
function mixFour(
  from: Uint8Array,
  a: number,
  c: number,
  right: number,
  below: number,
  out: Uint8Array,
  i: number,
): void {
  let wa = (1 - right) * (1 - below);
  let wb = right * (1 - below);
  let wc = (1 - right) * below;
  let wd = right * below;
  let alpha = 255;
  if ((from[a + 3] & from[a + 7] & from[c + 3] & from[c + 7]) !== 255) {
    wa *= from[a + 3];
    wb *= from[a + 7];
    wc *= from[c + 3];
    wd *= from[c + 7];
    alpha = wa + wb + wc + wd;
    if (alpha === 0) return;
    wa /= alpha;
    wb /= alpha;
    wc /= alpha;
    wd /= alpha;
  }
  out[i] = from[a] * wa + from[a + 4] * wb + from[c] * wc + from[c + 4] * wd + 0.5;
  out[i + 1] = from[a + 1] * wa + from[a + 5] * wb + from[c + 1] * wc + from[c + 5] * wd + 0.5;
  out[i + 2] = from[a + 2] * wa + from[a + 6] * wb + from[c + 2] * wc + from[c + 6] * wd + 0.5;
  out[i + 3] = alpha + 0.5;
}

/** The same for luma alone, the border repeated. */
export function warpLuma({ width, height, values }: LumaPicture, similarity: Similarity): LumaPicture {
  const { x, y, stretch, turn } = similarity;
  const out = new Float32Array(values.length);
  for (let row = 0, p = 0; row < height; row++) {
    const v = (row + 0.5 - height / 2) / width;
    for (let column = 0; column < width; column++, p++) {
      const u = (column + 0.5) / width - 0.5;
      const px = (u + stretch * u - turn * v + x + 0.5) * width - 0.5;
      const py = (v + turn * u + stretch * v + y) * width + height / 2 - 0.5;
      const left = Math.max(0, Math.min(width - 2, Math.floor(px)));
      const top = Math.max(0, Math.min(height - 2, Math.floor(py)));
      const right = Math.max(0, Math.min(1, px - left));
      const below = Math.max(0, Math.min(1, py - top));
      const q = top * width + left;
      out[p] =
        (values[q] * (1 - right) + values[q + 1] * right) * (1 - below) +
        (values[q + width] * (1 - right) + values[q + width + 1] * right) * below;
    }
  }
  return { width, height, values: out };
}
