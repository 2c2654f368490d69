import type { PixelFrame } from './frame.js';
import { mixFrames } from './mix.js';

/**
 * Two frames of the same size mixed evenly.
 * @param share of the second, 0–1.
 * @throws RangeError when the sizes differ.
 */
export function blendFrames(a: PixelFrame, b: PixelFrame, share: number): PixelFrame {
  return mixFrames([a, b], [1 - share, share]);
}
