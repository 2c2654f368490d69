import { createFrame, type PixelFrame, pixelWords } from '../pixels/index.js';
import type { LumaPicture } from './luma-picture.js';
import type { Similarity } from './register.js';

/**
 * A frame as it lies on the plate: each pixel is fetched from where it is in the frame (bilinear, weighted by alpha); what
 * the frame does not show comes from the plate.
 * @param wanted one byte a pixel; where it is 0 the plate is good enough, and nothing is fetched.
 */
export function warpFrame(
  frame: PixelFrame,
  similarity: Similarity,
  plate: PixelFrame,
  wanted?: Uint8Array,
): PixelFrame {
  const { width, height } = frame;
  const { x, y, stretch, turn } = similarity;
  if (x === 0 && y === 0 && stretch === 0 && turn === 0) return frame;
  const warped = createFrame(width, height, wanted ? plate.rgba.slice() : undefined);
  const mix = isOpaque(frame) ? opaqueMixer(frame, warped) : alphaMixer(frame, warped);
  const held = pixelWords(plate);
  const out = pixelWords(warped);
  const across = 1 + stretch;
  for (let row = 0, p = 0; row < height; row++) {
    const v = (row + 0.5 - height / 2) / width;
    const startX = (0.5 - turn * v + x) * width - 0.5;
    const startY = (across * v + y) * width + height / 2 - 0.5;
    for (let column = 0; column < width; column++, p++) {
      if (wanted && wanted[p] === 0) continue;
      const u = (column + 0.5) / width - 0.5;
      const px = startX + across * u * width;
      const py = startY + turn * u * width;
      // Half a pixel of the border may be repeated.
      if (px < -0.5 || py < -0.5 || px > width - 0.5 || py > height - 0.5) {
        out[p] = held[p];
        continue;
      }
      const left = px < 0 ? 0 : px > width - 2 ? width - 2 : px | 0;
      const top = py < 0 ? 0 : py > height - 2 ? height - 2 : py | 0;
      const right = px < left ? 0 : px > left + 1 ? 1 : px - left;
      const below = py < top ? 0 : py > top + 1 ? 1 : py - top;
      mix(top * width + left, right, below, p);
    }
  }
  return warped;
}

/** Writes to pixel `to` what lies between pixel `from`, its right and its lower neighbours. */
type Mixer = (from: number, right: number, below: number, to: number) => void;

function isOpaque(frame: PixelFrame): boolean {
  const words = pixelWords(frame);
  let all = -1;
  for (let p = 0; p < words.length; p++) all &= words[p];
  return all >>> 24 === 255;
}

/** Steps between two pixels: finer ones are not seen, and four weights then fit two channels of one word. */
const FINE = 16;
/** Red and blue, or green and alpha, of a pixel's word. */
const PAIR = 0x00ff00ff;
/** Half of the weights' sum in both channels. */
const ROUND = 0x00800080;

function opaqueMixer(frame: PixelFrame, warped: PixelFrame): Mixer {
  const from = pixelWords(frame);
  const out = pixelWords(warped);
  const { width } = frame;
  return (p, right, below, to) => {
    const r = (right * FINE + 0.5) | 0;
    const b = (below * FINE + 0.5) | 0;
    const wa = (FINE - r) * (FINE - b);
    const wb = r * (FINE - b);
    const wc = (FINE - r) * b;
    const wd = r * b;
    const one = from[p];
    const two = from[p + 1];
    const three = from[p + width];
    const four = from[p + width + 1];
    const even = (one & PAIR) * wa + (two & PAIR) * wb + (three & PAIR) * wc + (four & PAIR) * wd + ROUND;
    const odd =
      ((one >>> 8) & PAIR) * wa +
      ((two >>> 8) & PAIR) * wb +
      ((three >>> 8) & PAIR) * wc +
      ((four >>> 8) & PAIR) * wd +
      ROUND;
    out[to] = ((even >>> 8) & PAIR) | (odd & ~PAIR);
  };
}

function alphaMixer(frame: PixelFrame, warped: PixelFrame): Mixer {
  const { width } = frame;
  return (p, right, below, to) =>
    mixFour(frame.rgba, p * 4, (p + width) * 4, right, below, warped.rgba, to * 4);
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
