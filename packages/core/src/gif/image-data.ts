import { rowOrder } from './interlace.js';
import { decodeLzw } from './lzw-decoder.js';
import { type GifFile, type GifImage, joinSubBlocks } from './reader.js';

/** One image unpacked. */
export interface GifPixels {
  /** Row-major indices, interlacing undone. */
  readonly indices: Uint8Array;
  /** Where the data reached, 1 a pixel, row-major; null where it reached everywhere. */
  readonly there: Uint8Array | null;
}

/**
 * Unpacks an image's data (GIF89a, 22). Where it breaks off or goes wrong, the rest is index 0 and not there.
 */
export function unpackImage(file: GifFile, image: GifImage): GifPixels {
  const { width, height } = image.rect;
  const stream = new Uint8Array(width * height);
  const written = decodeLzw(joinSubBlocks(file.bytes, image.dataAt), image.codeBits, stream);
  const inOrder = (values: Uint8Array) => (image.interlaced ? deinterlace(values, width, height) : values);
  if (written === stream.length) return { indices: inOrder(stream), there: null };
  return { indices: inOrder(stream), there: inOrder(new Uint8Array(stream.length).fill(1, 0, written)) };
}

function deinterlace(stream: Uint8Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array(stream.length);
  for (const [from, y] of rowOrder(height, true).entries()) {
    out.set(stream.subarray(from * width, (from + 1) * width), y * width);
  }
  return out;
}
