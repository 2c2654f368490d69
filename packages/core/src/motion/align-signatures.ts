import { type CameraFit, createCameraFit } from './camera-fit.js';
import { SIGNATURE_BYTES, SIGNATURE_SIZE, signatureLuma } from './signature.js';

const LUMA = SIGNATURE_SIZE.width * SIGNATURE_SIZE.height;
const CHROMA = SIGNATURE_BYTES - LUMA;
const ROUNDS = 2;
/** A shift that is found to be this little off needs no second look, pixels of a signature. */
const THERE = 0.01;
/**
 * A camera that strayed further than this, in pixels of a signature, is not followed: then it is the scene
 * that moves.
 */
const FURTHEST = 3;

/** Signatures as if camera and light had stayed where they were at one frame. */
export interface AlignedSignatures {
  readonly count: number;
  /** Floats of one frame: luma, then Cb and Cr, as in a signature. */
  readonly stride: number;
  readonly values: Float32Array;
  /** What was taken out of each frame: shift x and y, pixels of a signature, and light, levels. */
  readonly taken: Float32Array;
}

/** Numbers of a frame in `taken`. */
export const TAKEN_FIGURES = 3;

/**
 * Aligns every signature to the middle one: shift and light are fitted robustly and taken out of the luma,
 * each frame starting from the shift of the one before. The chroma, four times as coarse, stays.
 * @param signatures count × SIGNATURE_BYTES bytes.
 */
export function alignSignatures(signatures: Uint8Array): AlignedSignatures {
  const count = signatures.length / SIGNATURE_BYTES;
  if (!Number.isInteger(count) || count < 1) {
    throw new RangeError(`Signatures come in ${SIGNATURE_BYTES} bytes each; got ${signatures.length} bytes.`);
  }
  const values = new Float32Array(count * SIGNATURE_BYTES);
  const middle = count >> 1;
  const fitToMiddle = createCameraFit(signatureLuma(signatureAt(signatures, middle)));
  const taken = new Float32Array(count * TAKEN_FIGURES);
  for (const [from, to, by] of [
    [middle, count, 1],
    [middle - 1, -1, -1],
  ] as const) {
    for (let frame = from; frame !== to; frame += by) {
      const before = frame === middle ? middle : frame - by;
      const signature = signatureAt(signatures, frame);
      const out = values.subarray(frame * SIGNATURE_BYTES, (frame + 1) * SIGNATURE_BYTES);
      const [x, y] = taken.subarray(before * TAKEN_FIGURES);
      taken.set(alignLuma(signatureLuma(signature), fitToMiddle, out, x, y), frame * TAKEN_FIGURES);
      for (let c = 0; c < CHROMA; c++) out[LUMA + c] = signature[LUMA + c];
    }
  }
  return { count, stride: SIGNATURE_BYTES, values, taken };
}

function signatureAt(signatures: Uint8Array, frame: number): Uint8Array {
  return signatures.subarray(frame * SIGNATURE_BYTES, (frame + 1) * SIGNATURE_BYTES);
}

/** Writes the aligned luma to out and returns the shift and the light that were found. */
function alignLuma(
  luma: Uint8Array,
  fitToMiddle: (luma: Float32Array) => CameraFit | null,
  out: Float32Array,
  startX: number,
  startY: number,
): [number, number, number] {
  let [x, y, light] = [startX, startY, 0];
  for (let round = 0; round < ROUNDS; round++) {
    shiftLuma(luma, x, y, out);
    const fit = fitToMiddle(out);
    if (!fit) break;
    const [nextX, nextY] = [x + fit[0], y + fit[1]];
    if (Math.hypot(nextX, nextY) > FURTHEST) {
      [x, y, light] = [0, 0, 0];
      break;
    }
    light = fit[2];
    if (Math.hypot(fit[0], fit[1]) < THERE) {
      for (let p = 0; p < LUMA; p++) out[p] -= light;
      return [x, y, light];
    }
    [x, y] = [nextX, nextY];
  }
  shiftLuma(luma, x, y, out);
  for (let p = 0; p < LUMA; p++) out[p] -= light;
  return [x, y, light];
}

/** out(p) = luma(p + shift), bilinear, the border repeated. */
function shiftLuma(luma: Uint8Array, x: number, y: number, out: Float32Array): void {
  const { width, height } = SIGNATURE_SIZE;
  const left = Math.floor(x);
  const top = Math.floor(y);
  const right = x - left;
  const down = y - top;
  for (let row = 0; row < height; row++) {
    const above = clamp(row + top, height) * width;
    const below = clamp(row + top + 1, height) * width;
    for (let column = 0; column < width; column++) {
      const a = clamp(column + left, width);
      const b = clamp(column + left + 1, width);
      out[row * width + column] =
        (luma[above + a] * (1 - right) + luma[above + b] * right) * (1 - down) +
        (luma[below + a] * (1 - right) + luma[below + b] * right) * down;
    }
  }
}

function clamp(value: number, count: number): number {
  return value < 0 ? 0 : value >= count ? count - 1 : value;
}
