import type { PixelFrame } from '../pixels/index.js';

/** A drawn picture and where its top left corner lies on the frame, whole pixels; it may hang over. */
export interface Overlay {
  readonly picture: PixelFrame;
  readonly x: number;
  readonly y: number;
}

/**
 * Lays a picture over a frame, in place (coded values, weighted by alpha: "over", T. Porter and T. Duff,
 * "Compositing digital images", 1984).
 * @param opacity 0–1.
 */
export function layOver(frame: PixelFrame, { picture, x, y }: Overlay, opacity: number): void {
  const left = Math.max(0, x);
  const right = Math.min(frame.width, x + picture.width);
  const bottom = Math.min(frame.height, y + picture.height);
  const from = picture.rgba;
  const to = frame.rgba;
  for (let row = Math.max(0, y); row < bottom; row++) {
    let i = (row * frame.width + left) * 4;
    let j = ((row - y) * picture.width + left - x) * 4;
    for (const end = (row * frame.width + right) * 4; i < end; i += 4, j += 4) {
      const alpha = (from[j + 3] * opacity) / 255;
      if (alpha === 0) continue;
      const below = (to[i + 3] / 255) * (1 - alpha);
      const whole = alpha + below;
      to[i] = Math.round((from[j] * alpha + to[i] * below) / whole);
      to[i + 1] = Math.round((from[j + 1] * alpha + to[i + 1] * below) / whole);
      to[i + 2] = Math.round((from[j + 2] * alpha + to[i + 2] * below) / whole);
      to[i + 3] = Math.round(whole * 255);
    }
  }
}
