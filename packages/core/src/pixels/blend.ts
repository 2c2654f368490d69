import { createFrame, type PixelFrame } from './frame.js';

/**
 * Two frames of the same size mixed, as a dissolve does: the coded values, weighted by alpha, so that what is
 * clear brings no colour in.
 * @param share of the second, 0–1.
 * @throws RangeError when the sizes differ.
 */
export function blendFrames(a: PixelFrame, b: PixelFrame, share: number): PixelFrame {
  if (a.width !== b.width || a.height !== b.height) {
    throw new RangeError(
      `Frames of ${a.width} × ${a.height} and ${b.width} × ${b.height} cannot be mixed. Give them one size first.`,
    );
  }
  const mixed = createFrame(a.width, a.height);
  const from = a.rgba;
  const to = b.rgba;
  const out = mixed.rgba;
  for (let i = 0; i < out.length; i += 4) {
    const fromWeight = from[i + 3] * (1 - share);
    const toWeight = to[i + 3] * share;
    const alpha = fromWeight + toWeight;
    out[i + 3] = Math.round(alpha);
    if (alpha === 0) continue;
    out[i] = Math.round((from[i] * fromWeight + to[i] * toWeight) / alpha);
    out[i + 1] = Math.round((from[i + 1] * fromWeight + to[i + 1] * toWeight) / alpha);
    out[i + 2] = Math.round((from[i + 2] * fromWeight + to[i + 2] * toWeight) / alpha);
  }
  return mixed;
}
