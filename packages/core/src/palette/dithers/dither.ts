import type { PixelFrame, Rgb } from '../../pixels/index.js';
import type { NearestColour } from '../nearest.js';

/** What every dither is given; the same for all frames of a reel. */
export interface DitherContext {
  readonly palette: readonly Rgb[];
  /** What finds the palette colour that is nearest at a pixel. */
  readonly nearestAt: (pixel: number) => NearestColour;
  /** 0–1: how much of the full effect. */
  readonly strength: number;
  /** The typical distance between neighbouring palette colours, in sRGB levels. */
  readonly spacing: number;
}

/**
 * Chooses a palette index for every pixel where a segment begins (`durations[p] > 0`) and leaves the
 * rest of `plan` alone: what did not change keeps its index, so still areas never crawl. The frame is left
 * with the colours that the indices were to come near to: what is merged afterwards is held against these, and
 * the pattern stays.
 * @param plan one index a pixel, row-major.
 */
export type Dither = (
  frame: PixelFrame,
  durations: Uint16Array,
  plan: Uint8Array,
  context: DitherContext,
) => void;

/** Takes what is nearest to a colour, not in whole levels yet, and leaves the colour in the frame. */
export function aim(
  rgba: Uint8Array,
  pixel: number,
  red: number,
  green: number,
  blue: number,
  nearest: NearestColour,
): number {
  const at = pixel * 4;
  rgba[at] = clampByte(red);
  rgba[at + 1] = clampByte(green);
  rgba[at + 2] = clampByte(blue);
  return nearest.find(rgba[at], rgba[at + 1], rgba[at + 2]);
}

function clampByte(value: number): number {
  if (value <= 0) return 0;
  return value >= 255 ? 255 : (value + 0.5) | 0;
}
