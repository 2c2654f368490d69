import { concat, fourCc, fourCcBytes } from './bytes.js';

/**
 * Animated WebP as a list of frames (WebP container specification, “RIFF file format” and “Extended file
 * format”). Pictures are not looked into: an encoder has made them.
 */

/** One frame of an animation: the payload of its ANMF chunk. */
export interface WebpFrameChunk {
  readonly payload: Uint8Array;
  readonly durationMs: number;
  /** Whether its place is cleared before the next frame. */
  readonly isDisposed: boolean;
}

export interface WebpAnimation {
  readonly width: number;
  readonly height: number;
  readonly frames: readonly WebpFrameChunk[];
}

/** RIFF, its size, WEBP. */
const FILE_HEADER_BYTES = 12;
const CHUNK_HEADER_BYTES = 8;
/** X, Y, width, height, duration: three bytes each; then flags. */
const FRAME_HEADER_BYTES = 16;
/** VP8X flags. */
const HAS_ANIMATION = 0x02;
const HAS_ALPHA = 0x10;
/** ANMF flags: cleared before the next one. */
const DISPOSE = 0x01;
/** ANMF flags: drawn over what is there without mixing. */
const DO_NOT_BLEND = 0x02;
/** The longest that one frame can be shown, ms. */
const LONGEST_MS = 0xff_ffff;

interface Chunk {
  readonly id: string;
  /** With its header and padding. */
  readonly whole: Uint8Array;
  readonly payload: Uint8Array;
}

/** @throws RangeError when the bytes are no whole WebP. */
function chunksOf(bytes: Uint8Array): Chunk[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  if (bytes.length < FILE_HEADER_BYTES || fourCc(bytes, 0) !== 'RIFF' || fourCc(bytes, 8) !== 'WEBP') {
    throw new RangeError('These bytes are no WebP.');
  }
  const chunks: Chunk[] = [];
  for (let at = FILE_HEADER_BYTES; at + CHUNK_HEADER_BYTES <= bytes.length; ) {
    const length = view.getUint32(at + 4, true);
    const from = at + CHUNK_HEADER_BYTES;
    const end = from + length + (length & 1);
    if (end > bytes.length) throw new RangeError('This WebP breaks off.');
    chunks.push({
      id: fourCc(bytes, at),
      whole: bytes.subarray(at, end),
      payload: bytes.subarray(from, from + length),
    });
    at = end;
  }
  return chunks;
}

/**
 * The frames of a WebP; a picture without motion is one frame.
 * @param stillMs how long a picture without motion is shown.
 * @throws RangeError when the bytes are no whole WebP.
 */
export function readWebpFrames(
  bytes: Uint8Array,
  size: { readonly width: number; readonly height: number },
  stillMs: number,
): WebpAnimation {
  const chunks = chunksOf(bytes);
  const moving = chunks.filter(({ id }) => id === 'ANMF');
  const frames =
    moving.length > 0
      ? moving.map(({ payload }) => ({
          payload,
          durationMs: uint24(payload, 12),
          isDisposed: (payload[FRAME_HEADER_BYTES - 1] & DISPOSE) !== 0,
        }))
      : [{ payload: stillFrame(chunks, size, stillMs), durationMs: stillMs, isDisposed: false }];
  return { ...size, frames };
}

/**
 * An animation as it was written.
 * @throws RangeError when the bytes are no whole animated WebP.
 */
export function readWebp(bytes: Uint8Array): WebpAnimation {
  const head = chunksOf(bytes).find(({ id }) => id === 'VP8X')?.payload;
  if (!head) throw new RangeError('This WebP is no animation.');
  return readWebpFrames(bytes, { width: uint24(head, 4) + 1, height: uint24(head, 7) + 1 }, 0);
}

/** Where a frame lies on its canvas, px, and how it is laid there. */
export interface WebpFramePlace {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** Mixed with what is there, by its alpha; else it takes its place. */
  readonly isBlended: boolean;
  readonly isDisposed: boolean;
}

export function webpFramePlace({ payload, isDisposed }: WebpFrameChunk): WebpFramePlace {
  return {
    x: 2 * uint24(payload, 0),
    y: 2 * uint24(payload, 3),
    width: uint24(payload, 6) + 1,
    height: uint24(payload, 9) + 1,
    isBlended: (payload[FRAME_HEADER_BYTES - 1] & DO_NOT_BLEND) === 0,
    isDisposed,
  };
}

/** The picture of one frame as a file of its own, without motion. */
export function stillWebp(frame: WebpFrameChunk): Uint8Array {
  const picture = frame.payload.subarray(FRAME_HEADER_BYTES);
  const { width, height } = webpFramePlace(frame);
  const head =
    fourCc(picture, 0) === 'ALPH'
      ? chunk('VP8X', concat([Uint8Array.of(HAS_ALPHA, 0, 0, 0), u24(width - 1), u24(height - 1)]))
      : new Uint8Array();
  const body = concat([fourCcBytes('WEBP'), head, picture]);
  return concat([fourCcBytes('RIFF'), u32(body.length), body]);
}

/** What stands for a picture without motion in an animation. */
function stillFrame(
  chunks: readonly Chunk[],
  { width, height }: { readonly width: number; readonly height: number },
  durationMs: number,
): Uint8Array {
  const picture = chunks.filter(({ id }) => id === 'ALPH' || id === 'VP8 ' || id === 'VP8L');
  return concat([
    concat([
      u24(0), // Frame X
      u24(0), // Frame Y
      u24(width - 1), // Frame Width Minus One
      u24(height - 1), // Frame Height Minus One
      u24(durationMs), // Frame Duration
      Uint8Array.of(DO_NOT_BLEND), // Blending method and disposal method
    ]),
    ...picture.map(({ whole }) => whole),
  ]);
}

/**
 * Writes frames as one animation.
 * @param plays 0 without end, else so many times.
 * @throws RangeError for what the format cannot hold.
 */
export function writeWebp({ width, height, frames }: WebpAnimation, plays: number): Uint8Array {
  const tooLong = frames.find(({ durationMs }) => durationMs > LONGEST_MS);
  if (tooLong) {
    throw new RangeError(
      `A frame lasts ${tooLong.durationMs} ms; WebP holds ${LONGEST_MS}. Show it for a shorter time.`,
    );
  }
  const head = chunk(
    'VP8X',
    concat([
      Uint8Array.of(HAS_ANIMATION | (frames.some(hasAlpha) ? HAS_ALPHA : 0), 0, 0, 0), // Flags and reserved bits
      u24(width - 1), // Canvas Width Minus One
      u24(height - 1), // Canvas Height Minus One
    ]),
  );
  const control = chunk(
    'ANIM',
    concat([
      u32(0), // Background Color
      u16(plays), // Loop Count
    ]),
  );
  const body = concat([
    fourCcBytes('WEBP'),
    head,
    control,
    ...frames.map(({ payload, durationMs }) => chunk('ANMF', withDuration(payload, durationMs))),
  ]);
  return concat([fourCcBytes('RIFF'), u32(body.length), body]);
}

/** Whether a frame lets shine through: it may be only what stays as it was before. */
function hasAlpha({ payload }: WebpFrameChunk): boolean {
  const id = fourCc(payload, FRAME_HEADER_BYTES);
  if (id === 'ALPH') return true;
  // Signature, width and height of 14 bits each, and then one that tells of alpha (RFC 9649, 3.4).
  return id === 'VP8L' && (payload[FRAME_HEADER_BYTES + CHUNK_HEADER_BYTES + 4] & 0x10) !== 0;
}

function withDuration(payload: Uint8Array, durationMs: number): Uint8Array {
  const out = new Uint8Array(payload);
  out.set(u24(durationMs), FRAME_HEADER_BYTES - 4);
  return out;
}

function chunk(id: string, payload: Uint8Array): Uint8Array {
  // Chunks begin at even places.
  return concat([fourCcBytes(id), u32(payload.length), payload, new Uint8Array(payload.length & 1)]);
}

function uint24(bytes: Uint8Array, at: number): number {
  return bytes[at] | (bytes[at + 1] << 8) | (bytes[at + 2] << 16);
}

const u16 = (value: number) => Uint8Array.of(value & 255, value >> 8);
const u24 = (value: number) => Uint8Array.of(value & 255, (value >> 8) & 255, value >> 16);
const u32 = (value: number) => Uint8Array.of(...u16(value & 0xffff), ...u16(value >>> 16));
