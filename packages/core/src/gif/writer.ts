import type { Rgb } from '../pixels/index.js';
import { LONGEST_DELAY_CS } from '../timing/index.js';
import type { ByteSink } from './byte-sink.js';

/** GIF89a, 23.c.iv: what becomes of a frame's place before the next is drawn. */
export type Disposal = 0 | 1 | 2 | 3;

/** Where one image lies on the screen, in pixels. */
export interface Rect {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

export interface ImageHeader {
  readonly rect: Rect;
  readonly delayCs: number;
  readonly disposal: Disposal;
  /** The index that lets what is below show through, or null. */
  readonly transparentIndex: number | null;
  /** The image's own colours; null where it uses the screen's. */
  readonly table: { readonly palette: readonly Rgb[]; readonly entries: number } | null;
  /** Its rows stand in the order of `rowOrder`. */
  readonly isInterlaced: boolean;
}

export interface ScreenHeader {
  readonly width: number;
  readonly height: number;
  readonly palette: readonly Rgb[];
  /** Colour table entries wanted, transparent one included; rounded up to a power of two. */
  readonly entries: number;
  /** How often the reel is shown: 0 without end, 1 once, n times. */
  readonly plays: number;
}

/** GIF89a, 18: a side is an unsigned 16-bit number. */
const LONGEST_SIDE = 65535;
const MOST_PLAYS = 65536;

/**
 * Header, Logical Screen Descriptor, Global Color Table and the looping extension (GIF89a, 17–19 and 26; the
 * loop count is the widely read NETSCAPE2.0 application extension: repeats after the first play, 0 without
 * end).
 * @throws RangeError naming value, limit and remedy for what the format cannot hold.
 */
export function writeScreen(sink: ByteSink, screen: ScreenHeader): void {
  const { width, height, palette, plays } = screen;
  if (width > LONGEST_SIDE || height > LONGEST_SIDE) {
    throw new RangeError(
      `The picture is ${width} × ${height} px; a GIF holds ${LONGEST_SIDE} px a side. Lower the width.`,
    );
  }
  if (screen.entries > 256) {
    throw new RangeError(`The palette needs ${screen.entries} entries; a GIF holds 256. Lower the colours.`);
  }
  if (!Number.isInteger(plays) || plays < 0 || plays > MOST_PLAYS) {
    throw new RangeError(`A GIF cannot be written to be seen ${plays} times; choose 0 to ${MOST_PLAYS}.`);
  }
  const tableBits = colourTableBits(screen.entries);
  sink.ascii('GIF89a'); // Signature, Version
  sink.u16(width); // Logical Screen Width
  sink.u16(height); // Logical Screen Height
  sink.u8(0x80 | (7 << 4) | (tableBits - 1)); // Global Color Table Flag, Color Resolution, Size
  sink.u8(0); // Background Color Index
  sink.u8(0); // Pixel Aspect Ratio
  writeColourTable(sink, palette, 1 << tableBits);
  if (plays !== 1) writeLooping(sink, plays === 0 ? 0 : plays - 1);
}

/** Bits that number the entries of a colour table: 1–8. */
export function colourTableBits(entries: number): number {
  return Math.max(1, Math.ceil(Math.log2(entries)));
}

function writeColourTable(sink: ByteSink, palette: readonly Rgb[], entries: number): void {
  for (let i = 0; i < entries; i++) {
    const [red, green, blue] = palette[i] ?? [0, 0, 0];
    sink.u8(red);
    sink.u8(green);
    sink.u8(blue);
  }
}

function writeLooping(sink: ByteSink, repeats: number): void {
  sink.u8(0x21); // Extension Introducer
  sink.u8(0xff); // Application Extension Label
  sink.u8(11); // Block Size
  sink.ascii('NETSCAPE2.0'); // Application Identifier, Authentication Code
  sink.u8(3); // Block Size
  sink.u8(1); // Sub-block: looping
  sink.u16(repeats); // Repeats after the first play
  sink.u8(0); // Block Terminator
}

/** @throws RangeError for a delay that the format cannot hold. */
export function assertDelay(delayCs: number): void {
  if (!Number.isInteger(delayCs) || delayCs < 0 || delayCs > LONGEST_DELAY_CS) {
    throw new RangeError(
      `A frame is to stay ${delayCs} hundredths of a second; a GIF holds whole ones up to ${LONGEST_DELAY_CS}. Repeat the frame.`,
    );
  }
}

/**
 * Graphic Control Extension, Image Descriptor and Local Color Table (GIF89a, 23, 20 and 21); LZW data
 * follows.
 * @returns where the Delay Time stands, for patching.
 */
export function writeImageHeader(sink: ByteSink, image: ImageHeader): number {
  const { rect, delayCs, disposal, transparentIndex, table, isInterlaced } = image;
  assertDelay(delayCs);
  sink.u8(0x21); // Extension Introducer
  sink.u8(0xf9); // Graphic Control Label
  sink.u8(4); // Block Size
  sink.u8((disposal << 2) | (transparentIndex === null ? 0 : 1)); // Disposal Method, Transparent Color Flag
  const delayAt = sink.length;
  sink.u16(delayCs); // Delay Time
  sink.u8(transparentIndex ?? 0); // Transparent Color Index
  sink.u8(0); // Block Terminator
  sink.u8(0x2c); // Image Separator
  sink.u16(rect.left); // Image Left Position
  sink.u16(rect.top); // Image Top Position
  sink.u16(rect.width); // Image Width
  sink.u16(rect.height); // Image Height
  const tableBits = table ? colourTableBits(table.entries) : 0;
  // Local Color Table Flag, Interlace Flag, Size of Local Color Table
  sink.u8((table ? 0x80 | (tableBits - 1) : 0) | (isInterlaced ? 0x40 : 0));
  if (table) writeColourTable(sink, table.palette, 1 << tableBits); // Local Color Table
  return delayAt;
}

export function writeTrailer(sink: ByteSink): void {
  sink.u8(0x3b); // Trailer
}
