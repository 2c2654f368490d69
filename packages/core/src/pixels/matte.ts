import { createFrame, type PixelFrame } from './frame.js';
import type { Rect } from './rect.js';
import type { Size } from './size.js';
import { LINEAR_FROM_SRGB8, SRGB8_FROM_LINEAR } from './srgb.js';

/**
 * What shows where a picture does not reach or can be seen through: an sRGB colour as #rrggbb, or nothing.
 */
export type Matte = 'transparent' | `#${string}`;

export const MATTE_PATTERN = /^(transparent|#[0-9a-f]{6})$/;

/** Red, green, blue, alpha, 0–255. */
export function matteBytes(matte: Matte): readonly [number, number, number, number] {
  if (matte === 'transparent') return [0, 0, 0, 0];
  const value = Number.parseInt(matte.slice(1), 16);
  return [value >> 16, (value >> 8) & 255, value & 255, 255];
}

/**
 * A fresh frame of the matte with the picture laid into it, its top left corner at the given whole pixel.
 * Where the picture can be seen through, the matte shows, mixed in linear light.
 */
export function layOnMatte(
  picture: PixelFrame,
  frame: Size,
  at: Pick<Rect, 'x' | 'y'>,
  matte: Matte,
): PixelFrame {
  const out = createFrame(frame.width, frame.height);
  const ground = matteBytes(matte);
  for (let i = 0; i < out.rgba.length; i += 4) out.rgba.set(ground, i);
  const isSolid = ground[3] === 255;
  const left = Math.max(0, at.x);
  const right = Math.min(frame.width, at.x + picture.width);
  for (let y = Math.max(0, at.y); y < Math.min(frame.height, at.y + picture.height); y++) {
    let from = ((y - at.y) * picture.width + left - at.x) * 4;
    for (let x = left, to = (y * frame.width + left) * 4; x < right; x++, to += 4, from += 4) {
      const alpha = picture.rgba[from + 3];
      if (alpha === 255 || !isSolid) out.rgba.set(picture.rgba.subarray(from, from + 4), to);
      else if (alpha > 0) mix(out.rgba, to, picture.rgba, from, alpha / 255);
    }
  }
  return out;
}

/**
 * Mixes what is half-transparent with a ground, in place and in linear light, and makes it opaque: an edge
 * that a file with one bit of alpha can hold. Pixels with less alpha than `clearBelow` are left as they are.
 */
export function hardenEdges({ rgba }: PixelFrame, ground: Matte, clearBelow: number): void {
  const colour = Uint8Array.from(matteBytes(ground));
  const mixed = new Uint8Array(4);
  for (let at = 0; at < rgba.length; at += 4) {
    const alpha = rgba[at + 3];
    if (alpha === 255 || alpha < clearBelow) continue;
    mixed.set(colour);
    mix(mixed, 0, rgba, at, alpha / 255);
    rgba.set(mixed, at);
  }
}

function mix(ground: Uint8Array, to: number, over: Uint8Array, from: number, alpha: number): void {
  for (let c = 0; c < 3; c++) {
    const light = LINEAR_FROM_SRGB8[over[from + c]] * alpha + LINEAR_FROM_SRGB8[ground[to + c]] * (1 - alpha);
    ground[to + c] = SRGB8_FROM_LINEAR[(light + 0.5) | 0];
  }
}
