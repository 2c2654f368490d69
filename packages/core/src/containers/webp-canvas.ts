import type { WebpFramePlace } from './webp.js';

/** Frames of an animated WebP laid on each other, as a viewer does it. */
export interface WebpCanvas {
  /**
   * Lays the next frame. @param rgba RGBA8 of the frame's own size.
   * @returns what is seen then: RGBA8 of the whole canvas, valid until the next frame is laid.
   */
  lay(place: WebpFramePlace, rgba: Uint8Array): Uint8Array;
}

/** WebP container specification, “Animation”: the canvas begins transparent. */
export function createWebpCanvas(width: number, height: number): WebpCanvas {
  const canvas = new Uint8Array(width * height * 4);
  let toClear: WebpFramePlace | null = null;
  const rowsOf = (place: WebpFramePlace, row: (at: number, y: number) => void) => {
    for (let y = 0; y < place.height; y++) row(((place.y + y) * width + place.x) * 4, y);
  };
  return {
    lay(place, rgba) {
      if (toClear) {
        const bytes = toClear.width * 4;
        rowsOf(toClear, (at) => canvas.fill(0, at, at + bytes));
      }
      toClear = place.isDisposed ? place : null;
      const bytes = place.width * 4;
      rowsOf(place, (at, y) => {
        const row = rgba.subarray(y * bytes, (y + 1) * bytes);
        if (place.isBlended) blendRow(canvas, at, row);
        else canvas.set(row, at);
      });
      return canvas;
    },
  };
}

/** Straight alpha, rounded as libwebp does it (src/demux/anim_decode.c, BlendPixelNonPremult). */
function blendRow(canvas: Uint8Array, at: number, row: Uint8Array): void {
  for (let i = 0; i < row.length; i += 4) {
    const to = at + i;
    const alpha = row[i + 3];
    if (alpha === 0) continue;
    if (alpha === 255) {
      canvas[to] = row[i];
      canvas[to + 1] = row[i + 1];
      canvas[to + 2] = row[i + 2];
      canvas[to + 3] = 255;
      continue;
    }
    const kept = (canvas[to + 3] * (256 - alpha)) >> 8;
    const blended = alpha + kept;
    const scale = Math.floor(2 ** 24 / blended);
    for (let channel = 0; channel < 3; channel++) {
      canvas[to + channel] = Math.floor(
        ((row[i + channel] * alpha + canvas[to + channel] * kept) * scale) / 2 ** 24,
      );
    }
    canvas[to + 3] = blended;
  }
}
