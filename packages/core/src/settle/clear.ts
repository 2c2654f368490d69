import { type PixelFrame, pixelWords } from '../pixels/index.js';

/** A pixel with less alpha than this is clear: a GIF pixel is either seen or not. */
export const CLEAR_BELOW = 128;

const OPAQUE = 0xff000000;

/**
 * Takes transparency out of the frames, in place: every pixel becomes opaque, clear ones with the colour that
 * the pixel shows before (or else after), so that they cost settling nothing.
 * @returns for each frame 1 where the pixel is clear; null when none is.
 */
export function takeOutClear(frames: readonly PixelFrame[]): Uint8Array[] | null {
  if (!frames.some(hasClear)) {
    for (const frame of frames) makeOpaque(frame);
    return null;
  }
  const words = frames.map(pixelWords);
  const clear = frames.map(({ rgba }) => {
    const flags = new Uint8Array(rgba.length >> 2);
    for (let p = 0; p < flags.length; p++) if (rgba[p * 4 + 3] < CLEAR_BELOW) flags[p] = 1;
    return flags;
  });
  for (let p = 0; p < words[0].length; p++) {
    const first = clear.findIndex((flags) => flags[p] === 0);
    let held = first < 0 ? OPAQUE : words[first][p];
    for (let f = 0; f < words.length; f++) {
      if (clear[f][p] === 0) held = words[f][p];
      words[f][p] = (held | OPAQUE) >>> 0;
    }
  }
  return clear;
}

function hasClear({ rgba }: PixelFrame): boolean {
  for (let at = 3; at < rgba.length; at += 4) if (rgba[at] < CLEAR_BELOW) return true;
  return false;
}

function makeOpaque({ rgba }: PixelFrame): void {
  for (let at = 3; at < rgba.length; at += 4) rgba[at] = 255;
}

/**
 * Cuts settled segments where a pixel goes out of sight and where it comes back, in place.
 * @param clear 1 where a pixel of a frame is clear; afterwards only at the frame where it becomes so.
 */
export function cutAtClear(
  frames: readonly PixelFrame[],
  durations: readonly Uint16Array[],
  clear: readonly Uint8Array[],
): void {
  const words = frames.map(pixelWords);
  for (let p = 0; p < words[0].length; p++) {
    let colour = 0;
    let segmentEnd = 0;
    let seenFrom = -1;
    for (let f = 0; f < frames.length; f++) {
      const begins = durations[f][p] > 0;
      if (begins) {
        colour = words[f][p];
        segmentEnd = f + durations[f][p];
      }
      const isClear = clear[f][p] === 1;
      const wasClear = f > 0 && seenFrom < 0;
      if (isClear) {
        // The colour that was shown until here ends here.
        if (seenFrom >= 0) durations[seenFrom][p] = f - seenFrom;
        durations[f][p] = 0;
        if (wasClear) clear[f][p] = 0;
        seenFrom = -1;
      } else if (begins || wasClear || f === 0) {
        words[f][p] = colour;
        durations[f][p] = segmentEnd - f;
        seenFrom = f;
      }
    }
  }
}
