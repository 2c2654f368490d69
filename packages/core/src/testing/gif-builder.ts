import { ByteSink } from '../gif/byte-sink.js';
import { packIndices } from '../gif/lzw-tree.js';

/** One image of a GIF put together by hand for the reader's tests: everything the standard allows. */
export interface BuiltImage {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
  readonly indices: Uint8Array;
  readonly codeBits: number;
  readonly delayCs: number;
  readonly disposal: number;
  readonly transparentIndex: number | null;
  readonly interlaced: boolean;
  readonly localTable: Uint8Array | null;
}

export function buildGif(
  width: number,
  height: number,
  globalTable: Uint8Array | null,
  images: readonly BuiltImage[],
  extras: { comment?: string; trailer?: boolean } = {},
): Uint8Array {
  const sink = new ByteSink();
  sink.ascii('GIF89a');
  sink.u16(width);
  sink.u16(height);
  sink.u8(globalTable ? 0x80 | tableBits(globalTable) : 0);
  sink.u8(0);
  sink.u8(0);
  if (globalTable) sink.put(globalTable);
  if (extras.comment) {
    sink.u8(0x21);
    sink.u8(0xfe);
    sink.u8(extras.comment.length);
    sink.ascii(extras.comment);
    sink.u8(0);
  }
  for (const image of images) {
    sink.u8(0x21);
    sink.u8(0xf9);
    sink.u8(4);
    sink.u8((image.disposal << 2) | (image.transparentIndex === null ? 0 : 1));
    sink.u16(image.delayCs);
    sink.u8(image.transparentIndex ?? 0);
    sink.u8(0);
    sink.u8(0x2c);
    sink.u16(image.left);
    sink.u16(image.top);
    sink.u16(image.width);
    sink.u16(image.height);
    sink.u8((image.localTable ? 0x80 | tableBits(image.localTable) : 0) | (image.interlaced ? 0x40 : 0));
    if (image.localTable) sink.put(image.localTable);
    const { width: across, indices } = image;
    const rows = rowOrder(image.height, image.interlaced);
    const inOrder = rows.flatMap((row) => [...indices.subarray(row * across, (row + 1) * across)]);
    sink.put(packIndices(inOrder, image.codeBits));
  }
  if (extras.trailer !== false) sink.u8(0x3b);
  return sink.take().slice();
}

function tableBits(table: Uint8Array): number {
  return Math.log2(table.length / 3) - 1;
}

/** GIF89a, appendix E. */
function rowOrder(height: number, interlaced: boolean): number[] {
  const rows = Array.from({ length: height }, (_, y) => y);
  if (!interlaced) return rows;
  const pass = (y: number) => (y % 8 === 0 ? 0 : y % 8 === 4 ? 1 : y % 4 === 2 ? 2 : 3);
  return rows.sort((a, b) => pass(a) - pass(b) || a - b);
}
