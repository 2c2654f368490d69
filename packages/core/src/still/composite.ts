import { createFrame, type PixelFrame, pixelWords } from '../pixels/index.js';
import type { Mask } from './mask.js';

/**
 * The plate where the mask holds, the frame where it moves, mixed between (coded values, weighted by alpha).
 * Held places are the plate's bytes exactly, so that they are the same in every frame.
 * @throws RangeError when the three differ in size.
 */
export function layRipples(plate: PixelFrame, frame: PixelFrame, mask: Mask): PixelFrame {
  const { width, height } = plate;
  if (frame.width !== width || frame.height !== height || mask.width !== width || mask.height !== height) {
    throw new RangeError(
      `Plate ${width} × ${height}, frame ${frame.width} × ${frame.height} and mask ${mask.width} × ${mask.height} px do not lie on each other.`,
    );
  }
  const laid = createFrame(width, height, plate.rgba.slice());
  const out = laid.rgba;
  const from = plate.rgba;
  const to = frame.rgba;
  // Four channels at once where nothing is mixed.
  const outWords = pixelWords(laid);
  const toWords = pixelWords(frame);
  for (let p = 0, i = 0; p < mask.values.length; p++, i += 4) {
    const share = mask.values[p];
    if (share === 0) continue;
    if (share === 255) {
      outWords[p] = toWords[p];
      continue;
    }
    const fromWeight = from[i + 3] * (255 - share);
    const toWeight = to[i + 3] * share;
    const weight = fromWeight + toWeight;
    out[i + 3] = Math.round(weight / 255);
    if (weight === 0) continue;
    out[i] = Math.round((from[i] * fromWeight + to[i] * toWeight) / weight);
    out[i + 1] = Math.round((from[i + 1] * fromWeight + to[i + 1] * toWeight) / weight);
    out[i + 2] = Math.round((from[i + 2] * fromWeight + to[i + 2] * toWeight) / weight);
  }
  return laid;
}
