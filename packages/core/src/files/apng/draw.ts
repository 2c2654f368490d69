import { type PixelFrame, pixelWords, type Size } from '../../pixels/index.js';

/** A rectangle of a frame in bytes as a PNG has them, in one or two ways that look alike. */
export interface DrawnFrame {
  readonly rect: {
    readonly left: number;
    readonly top: number;
    readonly width: number;
    readonly height: number;
  };
  /** Everything in the rectangle as it is. */
  readonly whole: Uint8Array;
  /** With what stays as it was left out, to be laid over it; null where that cannot be said. */
  readonly over: Uint8Array | null;
}

/** The smallest rectangle with all pixels that differ; null where none does. */
function changedRect<Values extends Uint8Array | Uint32Array>(
  { width, height }: Size,
  now: Values,
  before: Values,
): DrawnFrame['rect'] | null {
  let [left, right, top, bottom] = [width, -1, height, -1];
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      if (now[p] === before[p]) continue;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      bottom = y;
    }
  }
  return right < 0 ? null : { left, top, width: right - left + 1, height: bottom - top + 1 };
}

/**
 * A frame of all colours.
 * @param before what is shown, one word a pixel; null for the first frame.
 * @param bytesPerPixel 3 or 4.
 * @param clear a colour that no frame has and that stands for what stays; null where there is none.
 * @returns null where nothing changes.
 */
export function drawTrueColour(
  frame: PixelFrame,
  before: Uint32Array | null,
  bytesPerPixel: 3 | 4,
  clear: readonly [number, number, number] | null,
): DrawnFrame | null {
  const { width, height, rgba } = frame;
  const now = pixelWords(frame);
  const rect = before ? changedRect(frame, now, before) : { left: 0, top: 0, width, height };
  if (!rect) return null;
  const bytes = rect.width * rect.height * bytesPerPixel;
  const whole = new Uint8Array(bytes);
  const over = before && (clear || bytesPerPixel === 4) ? new Uint8Array(bytes) : null;
  let isOver = over !== null;
  let at = 0;
  for (let y = rect.top; y < rect.top + rect.height; y++) {
    for (let p = y * width + rect.left; p < y * width + rect.left + rect.width; p++, at += bytesPerPixel) {
      for (let channel = 0; channel < bytesPerPixel; channel++) whole[at + channel] = rgba[p * 4 + channel];
      if (!over || !before) continue;
      if (now[p] === before[p]) {
        if (clear) over.set(clear, at);
      } else {
        over.set(whole.subarray(at, at + bytesPerPixel), at);
        // What is transparent in part would be mixed with what is there.
        if (rgba[p * 4 + 3] !== 255) isOver = false;
      }
    }
  }
  return { rect, whole, over: isOver ? over : null };
}

/**
 * A frame of palette indices.
 * @param now the index that each pixel shows.
 * @param before what is shown; null for the first frame.
 * @param clear the index that lets shine through.
 */
export function drawIndexed(
  size: Size,
  now: Uint8Array,
  before: Uint8Array | null,
  clear: number,
): DrawnFrame | null {
  const { width, height } = size;
  const rect = before ? changedRect(size, now, before) : { left: 0, top: 0, width, height };
  if (!rect) return null;
  const whole = new Uint8Array(rect.width * rect.height);
  const over = before ? new Uint8Array(whole.length) : null;
  let isOver = over !== null;
  let at = 0;
  for (let y = rect.top; y < rect.top + rect.height; y++) {
    for (let p = y * width + rect.left; p < y * width + rect.left + rect.width; p++, at++) {
      whole[at] = now[p];
      if (!over || !before) continue;
      over[at] = now[p] === before[p] ? clear : now[p];
      // What goes out of sight cannot be laid over what is there.
      if (now[p] === clear && before[p] !== clear) isOver = false;
    }
  }
  return { rect, whole, over: isOver ? over : null };
}

const CHANNEL = 256;

/** A colour that none of the frames has; null where they have all that were looked for. */
export function unusedColour(frames: readonly PixelFrame[]): readonly [number, number, number] | null {
  const used = new Uint8Array(CHANNEL ** 3 / 8);
  for (const frame of frames) {
    for (const word of pixelWords(frame)) {
      const colour = word & 0xff_ffff;
      used[colour >> 3] |= 1 << (colour & 7);
    }
  }
  const free = used.findIndex((byte) => byte !== 255);
  if (free < 0) return null;
  const bit = [0, 1, 2, 3, 4, 5, 6, 7].find((one) => (used[free] & (1 << one)) === 0) ?? 0;
  const colour = free * 8 + bit;
  return [colour & 255, (colour >> 8) & 255, colour >> 16];
}
