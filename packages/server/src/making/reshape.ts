import { createFrame, type PixelFrame, type Size } from '@muted-pond/core/pixels';

/**
 * The picture at a size that is a pixel or so smaller or larger: what is too much at the right and below goes,
 * what is missing is the last column or row again.
 */
export function reshape(frame: PixelFrame, { width, height }: Size): PixelFrame {
  if (frame.width === width && frame.height === height) return frame;
  const out = createFrame(width, height);
  for (let y = 0; y < height; y++) {
    const row = Math.min(y, frame.height - 1) * frame.width;
    for (let x = 0; x < width; x++) {
      const from = (row + Math.min(x, frame.width - 1)) * 4;
      out.rgba.set(frame.rgba.subarray(from, from + 4), (y * width + x) * 4);
    }
  }
  return out;
}
