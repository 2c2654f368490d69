import type { Size } from '../pixels/index.js';
import { CHROMA_SCALE } from './luma-picture.js';

/** The luma of a signature, and with it the size in which a frame is decoded to make one. */
export const SIGNATURE_SIZE: Size = { width: 64, height: 36 };
/** Pixels of a chroma cell each way. */
const CHROMA_CELL = 4;
const LUMA_BYTES = SIGNATURE_SIZE.width * SIGNATURE_SIZE.height;
const CHROMA_BYTES = LUMA_BYTES / CHROMA_CELL ** 2;

/**
 * Bytes of one signature: 64 × 36 luma, then 16 × 9 of Cb and of Cr, row-major, full range (BT.601 weights).
 */
export const SIGNATURE_BYTES = LUMA_BYTES + 2 * CHROMA_BYTES;

/**
 * A frame in small, for finding what moves and where footage meets itself.
 * @param rgba RGBA8 of SIGNATURE_SIZE.
 * @param out receives SIGNATURE_BYTES bytes.
 */
export function writeSignature(rgba: Uint8Array, out: Uint8Array): void {
  if (rgba.length !== LUMA_BYTES * 4 || out.length !== SIGNATURE_BYTES) {
    throw new RangeError(
      `A signature is made of ${LUMA_BYTES * 4} bytes and has ${SIGNATURE_BYTES}; got ${rgba.length} and ${out.length}.`,
    );
  }
  const cellsAcross = SIGNATURE_SIZE.width / CHROMA_CELL;
  const blueness = new Float32Array(CHROMA_BYTES);
  const redness = new Float32Array(CHROMA_BYTES);
  for (let p = 0, at = 0; p < LUMA_BYTES; p++, at += 4) {
    const r = rgba[at];
    const g = rgba[at + 1];
    const b = rgba[at + 2];
    const luma = 0.299 * r + 0.587 * g + 0.114 * b;
    out[p] = Math.round(luma);
    const x = p % SIGNATURE_SIZE.width;
    const y = (p - x) / SIGNATURE_SIZE.width;
    const cell = Math.floor(y / CHROMA_CELL) * cellsAcross + Math.floor(x / CHROMA_CELL);
    blueness[cell] += (b - luma) * CHROMA_SCALE.blue;
    redness[cell] += (r - luma) * CHROMA_SCALE.red;
  }
  for (let cell = 0; cell < CHROMA_BYTES; cell++) {
    out[LUMA_BYTES + cell] = chromaByte(blueness[cell] / CHROMA_CELL ** 2);
    out[LUMA_BYTES + CHROMA_BYTES + cell] = chromaByte(redness[cell] / CHROMA_CELL ** 2);
  }
}

function chromaByte(difference: number): number {
  return Math.max(0, Math.min(255, Math.round(128 + difference)));
}

/** The luma part of a signature, row-major. */
export function signatureLuma(signature: Uint8Array): Uint8Array {
  return signature.subarray(0, LUMA_BYTES);
}
