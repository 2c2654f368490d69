import { UserError } from '../errors/index.js';
/**
 * One picture. `rgba` is RGBA8, row-major, top row first, straight (not premultiplied) alpha,
 * sRGB-encoded, `width * height * 4` bytes.
 */
export interface PixelFrame {
  readonly width: number;
  readonly height: number;
  readonly rgba: Uint8Array;
}

/**
 * A frame over the given bytes, or a fresh transparent black one.
 * @throws RangeError if a side is not a whole number above zero, or the bytes do not fit the size.
 */
export function createFrame(width: number, height: number, rgba?: Uint8Array): PixelFrame {
  if (!Number.isInteger(width) || !Number.isInteger(height) || width < 1 || height < 1) {
    throw new RangeError(`A frame needs whole sides of at least 1 px; got ${width} × ${height}.`);
  }
  const bytes = width * height * 4;
  if (rgba && rgba.length !== bytes) {
    throw new RangeError(`A frame of ${width} × ${height} px needs ${bytes} bytes; got ${rgba.length}.`);
  }
  return { width, height, rgba: rgba ? plainBytes(rgba) : new Uint8Array(bytes) };
}

/**
 * A host's own kind of byte array may share its memory when it is sliced; frames must not. The memory stays
 * the same.
 */
function plainBytes(bytes: Uint8Array): Uint8Array {
  const isPlain = Object.getPrototypeOf(bytes) === Uint8Array.prototype;
  return isPlain ? bytes : new Uint8Array(bytes.buffer, bytes.byteOffset, bytes.length);
}

/** The pixels as one little-endian 32-bit word each (0xAABBGGRR), without copying when aligned. */
export function pixelWords(frame: PixelFrame): Uint32Array {
  const { rgba } = frame;
  if (rgba.byteOffset % 4 === 0) return new Uint32Array(rgba.buffer, rgba.byteOffset, rgba.length >> 2);
  return new Uint32Array(rgba.slice().buffer);
}

/** Whether nothing can be seen through. @param rgba RGBA8. */
export function isOpaque(rgba: Uint8Array): boolean {
  for (let at = 3; at < rgba.length; at += 4) if (rgba[at] !== 255) return false;
  return true;
}

/** A reel must be of one size. @throws RangeError naming the first frame that is not. */
export function assertOneSize(frames: readonly PixelFrame[]): void {
  const first = frames[0];
  if (!first) throw new UserError('no_frame_left', 'The reel has no frames. Widen the span.');
  frames.forEach((frame, index) => {
    if (frame.width !== first.width || frame.height !== first.height) {
      throw new RangeError(
        `Frame ${index} is ${frame.width} × ${frame.height} px; the reel is ${first.width} × ${first.height} px.`,
      );
    }
  });
}
