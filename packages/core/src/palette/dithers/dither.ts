import type { PixelFrame, Rgb } from '../../pixels/index.js';
import type { NearestColour } from '../nearest.js';

/** What every dither is given; the same for all frames of a reel. */
export interface DitherContext {
  readonly palette: readonly Rgb[];
  readonly nearest: NearestColour;
  /** The same for each class of pixels, see CHROMA_SHARES … */
  readonly byChroma: readonly NearestColour[];
  /** … and the class of each pixel of the frame. */
  readonly chroma: Uint8Array;
  /** 0–1: how much of the full effect. */
  readonly strength: number;
  /** The typical distance between neighbouring palette colours, in sRGB levels. */
  readonly spacing: number;
}

/**
 * Chooses a palette index for every pixel where a segment begins (`durations[p] > 0`) and leaves the
 * rest of `plan` alone: what did not change keeps its index, so still areas never crawl.
 * @param plan one index a pixel, row-major.
 */
export type Dither = (
  frame: PixelFrame,
  durations: Uint16Array,
  plan: Uint8Array,
  context: DitherContext,
) => void;

export function clampByte(value: number): number {
  if (value <= 0) return 0;
  return value >= 255 ? 255 : (value + 0.5) | 0;
}
