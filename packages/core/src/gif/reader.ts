import { createFrame, type PixelFrame } from '../pixels/index.js';
import { decodeLzw } from './lzw-decoder.js';
import type { Disposal, Rect } from './writer.js';

/** One image as it stands in the file. */
export interface GifImage {
  readonly rect: Rect;
  /** Written delay, centiseconds; 0 where none was given. */
  readonly delayCs: number;
  readonly disposal: Disposal;
  readonly transparentIndex: number | null;
  readonly interlaced: boolean;
  /** The colours that apply: the image's own table or the screen's; 3 bytes an entry. */
  readonly colourTable: Uint8Array;
  /** Row-major indices, interlacing undone. */
  readonly indices: Uint8Array;
  /** True when the data broke off; the rest is index 0. */
  readonly cutShort: boolean;
}

export interface GifFile {
  readonly width: number;
  readonly height: number;
  /** How often it is shown: 0 without end, 1 once (also when nothing is said), n times. */
  readonly plays: number;
  /** The screen's background colour as 0xAABBGGRR; 0, fully transparent, where the file names none. */
  readonly background: number;
  readonly images: readonly GifImage[];
}

/** What a GIF's bytes can be wrong about. `message` is a sentence for a person. */
export class GifError extends Error {
  override readonly name = 'GifError';
}

export interface GifReadLimits {
  /** Largest screen, in pixels. */
  readonly pixels: number;
}

const DEFAULT_LIMITS: GifReadLimits = { pixels: 1 << 28 };

/**
 * Reads a GIF (87a and 89a): every legal file, with local palettes, interlacing, any code size, comments,
 * plain text (skipped, as viewers do) and unknown extensions. A file that breaks off gives the images
 * before the break and what there is of the last.
 * @throws GifError if it is no GIF, holds no image, or is larger than the limit.
 */
export function readGif(bytes: Uint8Array, limits: GifReadLimits = DEFAULT_LIMITS): GifFile {
  const at = new Cursor(bytes);
  const signature = at.ascii(6);
  if (signature !== 'GIF87a' && signature !== 'GIF89a') {
    throw new GifError('This is not a GIF: it does not begin with GIF87a or GIF89a.');
  }
  const screenWidth = at.u16();
  const screenHeight = at.u16();
  const packed = at.u8();
  const backgroundIndex = at.u8();
  at.skip(1); // Pixel Aspect Ratio
  const globalTable = packed & 0x80 ? at.take(3 << ((packed & 7) + 1)) : new Uint8Array(0);

  const images: GifImage[] = [];
  let plays = 1;
  let control = noControl();
  reading: while (!at.ended) {
    switch (at.u8()) {
      case 0x21: {
        const label = at.u8();
        const data = at.subBlocks();
        if (label === 0xf9 && data.length >= 4) control = readControl(data);
        else if (label === 0xff) plays = readLooping(data) ?? plays;
        else if (label === 0x01) control = noControl(); // Plain Text uses up the control block
        break;
      }
      case 0x2c: {
        const image = readImage(at, globalTable, control, limits);
        if (image) images.push(image);
        control = noControl();
        break;
      }
      case 0x00:
        break; // a stray block terminator, which some writers leave
      default:
        break reading; // Trailer, or bytes that are no block
    }
  }
  if (images.length === 0) throw new GifError('This GIF holds no picture.');
  // Some writers leave the screen too small for its first image; viewers then make it larger.
  const [{ rect }] = images;
  const width = Math.max(screenWidth, rect.left + rect.width);
  const height = Math.max(screenHeight, rect.top + rect.height);
  if (width * height > limits.pixels) {
    throw new GifError(
      `This GIF claims ${width} × ${height} px, more than the ${limits.pixels} pixels allowed.`,
    );
  }
  return { width, height, plays, background: colourWord(globalTable, backgroundIndex), images };
}

interface Control {
  readonly delayCs: number;
  readonly disposal: Disposal;
  readonly transparentIndex: number | null;
}

function noControl(): Control {
  return { delayCs: 0, disposal: 0, transparentIndex: null };
}

/** Graphic Control Extension (GIF89a, 23). Disposals 4–7 are "to be defined": taken as 0. */
function readControl(data: Uint8Array): Control {
  const disposal = (data[0] >> 2) & 7;
  return {
    delayCs: data[1] | (data[2] << 8),
    disposal: disposal > 3 ? 0 : (disposal as Disposal),
    transparentIndex: data[0] & 1 ? data[3] : null,
  };
}

/** The looping sub-block of NETSCAPE2.0 and its twin ANIMEXTS1.0; null for other applications. */
function readLooping(data: Uint8Array): number | null {
  const application = String.fromCharCode(...data.subarray(0, 11));
  if (application !== 'NETSCAPE2.0' && application !== 'ANIMEXTS1.0') return null;
  if (data.length < 14 || data[11] !== 1) return null;
  const repeats = data[12] | (data[13] << 8);
  return repeats === 0 ? 0 : repeats + 1;
}

/** Image Descriptor, Local Color Table, image data (GIF89a, 20–22). Null when nothing of it is there. */
function readImage(
  at: Cursor,
  globalTable: Uint8Array,
  control: Control,
  limits: GifReadLimits,
): GifImage | null {
  if (at.left < 10) return null;
  const rect = { left: at.u16(), top: at.u16(), width: at.u16(), height: at.u16() };
  const packed = at.u8();
  const colourTable = packed & 0x80 ? at.take(3 << ((packed & 7) + 1)) : globalTable;
  const codeBits = at.u8();
  const data = at.subBlocks();
  const pixels = rect.width * rect.height;
  if (pixels > limits.pixels) {
    throw new GifError(
      `This GIF claims a picture of ${rect.width} × ${rect.height} px, more than the ${limits.pixels} pixels allowed.`,
    );
  }
  if (pixels === 0 || codeBits < 1 || codeBits > 11) return null;
  const stream = new Uint8Array(pixels);
  const written = decodeLzw(data, codeBits, stream);
  const interlaced = (packed & 0x40) !== 0;
  return {
    rect,
    ...control,
    interlaced,
    colourTable,
    indices: interlaced ? deinterlace(stream, rect.width, rect.height) : stream,
    cutShort: written < pixels,
  };
}

/** GIF89a, appendix E: every 8th row from 0, from 4, every 4th from 2, every 2nd from 1. */
function deinterlace(stream: Uint8Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array(stream.length);
  let from = 0;
  for (const [start, step] of [
    [0, 8],
    [4, 8],
    [2, 4],
    [1, 2],
  ]) {
    for (let y = start; y < height; y += step, from += width) {
      out.set(stream.subarray(from, from + width), y * width);
    }
  }
  return out;
}

/** One colour of a table as 0xAABBGGRR; 0 where the table does not reach so far. */
function colourWord(table: Uint8Array, index: number): number {
  const at = index * 3;
  if (at + 2 >= table.length) return 0;
  return (0xff000000 | (table[at + 2] << 16) | (table[at + 1] << 8) | table[at]) >>> 0;
}

/**
 * The pictures a viewer shows, one per image, whole screen; what no image has drawn is transparent. Disposal is applied
 * as GIF89a, 23.c.iv says; an image that can be seen through gives way to transparency, an opaque one to the
 * background colour.
 */
export function* composeGif(file: GifFile): Generator<PixelFrame> {
  const { width, height, background } = file;
  const canvas = createFrame(width, height);
  const words = new Uint32Array(canvas.rgba.buffer);
  let before: Uint32Array | null = null;
  for (const image of file.images) {
    if (image.disposal === 3) before = words.slice();
    drawImage(image, words, width, height);
    yield createFrame(width, height, canvas.rgba.slice());
    const clearTo = image.transparentIndex === null ? background : 0;
    if (image.disposal === 2) fillRect(words, image.rect, width, height, clearTo);
    else if (image.disposal === 3 && before) words.set(before);
  }
}

function drawImage(image: GifImage, words: Uint32Array, width: number, height: number): void {
  const { rect, colourTable, indices, transparentIndex } = image;
  const colours = Uint32Array.from({ length: 256 }, (_, i) => colourWord(colourTable, i) || 0xff000000);
  const right = Math.min(width, rect.left + rect.width);
  const bottom = Math.min(height, rect.top + rect.height);
  for (let y = rect.top; y < bottom; y++) {
    let from = (y - rect.top) * rect.width;
    for (let x = rect.left; x < right; x++, from++) {
      const index = indices[from];
      if (index !== transparentIndex) words[y * width + x] = colours[index];
    }
  }
}

function fillRect(words: Uint32Array, rect: Rect, width: number, height: number, word: number): void {
  const right = Math.min(width, rect.left + rect.width);
  const bottom = Math.min(height, rect.top + rect.height);
  for (let y = rect.top; y < bottom; y++) {
    if (right > rect.left) words.fill(word, y * width + rect.left, y * width + right);
  }
}

/** Walks the bytes; past the end it reads zeros, and `ended` says so. */
class Cursor {
  private at = 0;

  constructor(private readonly bytes: Uint8Array) {}

  get ended(): boolean {
    return this.at >= this.bytes.length;
  }

  get left(): number {
    return Math.max(0, this.bytes.length - this.at);
  }

  u8(): number {
    return this.at < this.bytes.length ? this.bytes[this.at++] : 0;
  }

  u16(): number {
    return this.u8() | (this.u8() << 8);
  }

  ascii(count: number): string {
    return String.fromCharCode(...this.take(count));
  }

  /** A copy of the next bytes, filled up with zeros where the file ends. */
  take(count: number): Uint8Array {
    const out = new Uint8Array(count);
    out.set(this.bytes.subarray(this.at, this.at + count));
    this.at += count;
    return out;
  }

  skip(count: number): void {
    this.at += count;
  }

  /** Data Sub-blocks up to the Block Terminator (GIF89a, 15 and 16), joined. */
  subBlocks(): Uint8Array {
    const from = this.at;
    let total = 0;
    for (let size = this.u8(); size > 0; size = this.u8()) {
      total += Math.min(size, this.left);
      this.at += size;
    }
    const out = new Uint8Array(total);
    let read = from;
    let written = 0;
    while (written < total) {
      const size = this.bytes[read];
      const chunk = this.bytes.subarray(read + 1, read + 1 + size);
      out.set(chunk, written);
      written += chunk.length;
      read += size + 1;
    }
    return out;
  }
}
