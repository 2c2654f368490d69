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
  /** LZW minimum code size, 1–11. */
  readonly codeBits: number;
  /** Where its data sub-blocks begin in the file. */
  readonly dataAt: number;
}

export interface GifFile {
  readonly width: number;
  readonly height: number;
  /** How often it is shown: 0 without end, 1 once (also when nothing is said), n times. */
  readonly plays: number;
  /** The screen's background colour as 0xAABBGGRR; 0, fully transparent, where the file names none. */
  readonly background: number;
  readonly images: readonly GifImage[];
  /** True when the bytes end where a block or the trailer should follow. */
  readonly breaksOff: boolean;
  /** The whole file: pictures are unpacked when they are looked at. */
  readonly bytes: Uint8Array;
}

/** What a GIF's bytes can be wrong about. `message` is a sentence for a person. */
export class GifError extends Error {
  override readonly name = 'GifError';
}

export interface GifReadLimits {
  /** Largest screen, in pixels. */
  readonly pixels: number;
  /** Pixels of the screen × images. */
  readonly total?: number;
}

const DEFAULT_LIMITS: GifReadLimits = { pixels: 1 << 28 };

/**
 * Reads what a GIF (87a and 89a) holds and where: every legal file, with local palettes, interlacing, any
 * code size, comments, plain text (skipped, as viewers do) and unknown extensions. No picture is unpacked, so
 * it takes moments whatever the file claims. A file that breaks off gives the images before the break and the
 * one it breaks off in.
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
  let breaksOff = true;
  let control = noControl();
  reading: while (!at.ended) {
    switch (at.u8()) {
      case 0x21: {
        const label = at.u8();
        const data = joinSubBlocks(bytes, at.skipSubBlocks());
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
      case 0x3b:
        breaksOff = false;
        break reading; // Trailer
      default:
        break reading; // bytes that are no block
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
  if (width * height * images.length > (limits.total ?? Number.POSITIVE_INFINITY)) {
    throw new GifError(
      `This GIF holds ${images.length} frames of ${width} × ${height} px, more than can be unpacked here.`,
    );
  }
  const background = colourWord(globalTable, backgroundIndex);
  return { width, height, plays, background, images, breaksOff, bytes };
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
  const dataAt = at.skipSubBlocks();
  const pixels = rect.width * rect.height;
  if (pixels > limits.pixels) {
    throw new GifError(
      `This GIF claims a picture of ${rect.width} × ${rect.height} px, more than the ${limits.pixels} pixels allowed.`,
    );
  }
  if (pixels === 0 || codeBits < 1 || codeBits > 11) return null;
  const interlaced = (packed & 0x40) !== 0;
  return { rect, ...control, interlaced, colourTable, codeBits, dataAt };
}

/** One colour of a table as 0xAABBGGRR; 0 where the table does not reach so far. */
export function colourWord(table: Uint8Array, index: number): number {
  const at = index * 3;
  if (at + 2 >= table.length) return 0;
  return (0xff000000 | (table[at + 2] << 16) | (table[at + 1] << 8) | table[at]) >>> 0;
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

  /** Passes the data sub-blocks up to the block terminator (GIF89a, 15 and 16). @returns where they began. */
  skipSubBlocks(): number {
    const from = this.at;
    for (let size = this.u8(); size > 0; size = this.u8()) this.at += size;
    return from;
  }
}

/**
 * The bytes of the data sub-blocks from a place up to the block terminator or the end of the file, joined.
 */
export function joinSubBlocks(bytes: Uint8Array, from: number): Uint8Array {
  let total = 0;
  for (let at = from; at < bytes.length && bytes[at] > 0; at += bytes[at] + 1) {
    total += Math.min(bytes[at], bytes.length - at - 1);
  }
  const out = new Uint8Array(total);
  for (let at = from, written = 0; written < total; at += bytes[at] + 1) {
    const chunk = bytes.subarray(at + 1, at + 1 + bytes[at]);
    out.set(chunk, written);
    written += chunk.length;
  }
  return out;
}
