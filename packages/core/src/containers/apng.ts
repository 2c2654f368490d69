import { concat, fourCcBytes, u16be, u32be } from './bytes.js';

/** How the pixels of a PNG are written: its colour type (W3C PNG, 11.2.1), with eight bits a channel. */
export type PngColours =
  | { readonly type: 'rgb'; readonly clear: readonly [number, number, number] | null }
  | { readonly type: 'rgba' }
  /** @property rgb three bytes an entry; the entry after the last is clear where `clear` says so. */
  | { readonly type: 'palette'; readonly rgb: Uint8Array; readonly clear: boolean };

const COLOUR_TYPES = { rgb: 2, palette: 3, rgba: 6 } as const;

/** One frame: its rectangle, how it is laid over what is shown, and its packed rows. */
export interface ApngFrame {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
  /** Thousandths of a second. */
  readonly delayMs: number;
  /** Whether what is clear in it lets shine through what was shown before. */
  readonly isLaidOver: boolean;
  /** Filtered rows, deflated (zlib). */
  readonly packed: Uint8Array;
}

const SIGNATURE = Uint8Array.of(137, 80, 78, 71, 13, 10, 26, 10);
/** APNG_DISPOSE_OP_NONE. */
const KEEP = 0;
const BLEND_SOURCE = 0;
const BLEND_OVER = 1;
/** The longest number that a delay's numerator and denominator hold. */
const MOST_U16 = 65_535;

/**
 * An animated PNG (W3C PNG third edition, 11.3.4, “Animation information”).
 * @param plays 0 without end, else so many times.
 * @throws RangeError for a delay that it cannot hold.
 */
export function writeApng(
  size: { readonly width: number; readonly height: number },
  colours: PngColours,
  frames: readonly ApngFrame[],
  plays: number,
): Uint8Array {
  let sequence = 0;
  return concat([
    SIGNATURE,
    chunk(
      'IHDR',
      u32be(size.width), // Width
      u32be(size.height), // Height
      Uint8Array.of(
        8, // Bit depth
        COLOUR_TYPES[colours.type], // Colour type
        0, // Compression method
        0, // Filter method
        0, // Interlace method
      ),
    ),
    // Values are sRGB as they stand; perceptual intent.
    chunk('sRGB', Uint8Array.of(0)),
    ...colourChunks(colours),
    chunk('acTL', u32be(frames.length), u32be(plays)),
    ...frames.flatMap((frame, i) => [
      chunk('fcTL', u32be(sequence++), ...control(frame)),
      i === 0 ? chunk('IDAT', frame.packed) : chunk('fdAT', u32be(sequence++), frame.packed),
    ]),
    chunk('IEND'),
  ]);
}

/** Bytes of a frame in the file: control and pictures, with what stands around them. */
export function apngFrameBytes({ packed }: ApngFrame, isFirst: boolean): number {
  return 38 + 12 + packed.length + (isFirst ? 0 : 4);
}

function colourChunks(colours: PngColours): Uint8Array[] {
  switch (colours.type) {
    case 'rgba':
      return [];
    case 'rgb':
      return colours.clear ? [chunk('tRNS', ...colours.clear.map(u16be))] : [];
    case 'palette': {
      const entries = colours.rgb.length / 3;
      const alpha = new Uint8Array(entries + 1).fill(255);
      alpha[entries] = 0;
      const clear = colours.clear ? [Uint8Array.of(0, 0, 0)] : [];
      return [chunk('PLTE', colours.rgb, ...clear), ...(colours.clear ? [chunk('tRNS', alpha)] : [])];
    }
  }
}

function control({ width, height, left, top, delayMs, isLaidOver }: ApngFrame): Uint8Array[] {
  // Thousandths as long as they fit; else hundredths.
  const [numerator, denominator] =
    Math.round(delayMs) <= MOST_U16 ? [Math.round(delayMs), 1000] : [Math.round(delayMs / 10), 100];
  if (numerator > MOST_U16) {
    throw new RangeError(`A frame lasts ${delayMs} ms; a PNG holds 655 s. Show it for a shorter time.`);
  }
  return [
    u32be(width), // width
    u32be(height), // height
    u32be(left), // x_offset
    u32be(top), // y_offset
    u16be(numerator), // delay_num
    u16be(denominator), // delay_den
    Uint8Array.of(
      KEEP, // dispose_op
      isLaidOver ? BLEND_OVER : BLEND_SOURCE, // blend_op
    ),
  ];
}

function chunk(type: string, ...data: readonly Uint8Array[]): Uint8Array {
  const named = concat([fourCcBytes(type), ...data]);
  return concat([u32be(named.length - 4), named, u32be(crc32(named))]);
}

/** The cyclic redundancy code of every byte (W3C PNG, annex D). */
const CRC_TABLE = Uint32Array.from({ length: 256 }, (_, byte) => {
  let code = byte;
  for (let bit = 0; bit < 8; bit++) code = code & 1 ? 0xedb8_8320 ^ (code >>> 1) : code >>> 1;
  return code;
});

function crc32(bytes: Uint8Array): number {
  let code = 0xffff_ffff;
  for (let i = 0; i < bytes.length; i++) code = CRC_TABLE[(code ^ bytes[i]) & 255] ^ (code >>> 8);
  return (code ^ 0xffff_ffff) >>> 0;
}
