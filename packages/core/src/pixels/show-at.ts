import { createFrame, type PixelFrame } from './frame.js';
import type { Size } from './size.js';

/**
 * A picture drawn larger as browsers draw it: bilinear, in coded values, pixel centres half a pixel in, edges
 * held. The same object where it has that size already.
 * @param frame opaque RGBA8.
 * @throws RangeError for a smaller size: browsers shrink otherwise.
 */
export function showAt(frame: PixelFrame, size: Size): PixelFrame {
  const { width, height, rgba } = frame;
  if (width === size.width && height === size.height) return frame;
  if (size.width < width || size.height < height) {
    throw new RangeError(
      `A picture of ${width} × ${height} px is not shown at ${size.width} × ${size.height}.`,
    );
  }
  const across = taps(width, size.width);
  const down = taps(height, size.height);
  const out = createFrame(size.width, size.height);
  const to = out.rgba;
  for (let y = 0, i = 0; y < size.height; y++) {
    const above = down.first[y] * width * 4;
    const below = down.second[y] * width * 4;
    const v = down.share[y];
    for (let x = 0; x < size.width; x++, i += 4) {
      const left = across.first[x] * 4;
      const right = across.second[x] * 4;
      const u = across.share[x];
      for (let c = 0; c < 4; c++) {
        const top = rgba[above + left + c] * (1 - u) + rgba[above + right + c] * u;
        const bottom = rgba[below + left + c] * (1 - u) + rgba[below + right + c] * u;
        to[i + c] = top * (1 - v) + bottom * v + 0.5;
      }
    }
  }
  return out;
}

/** For every output sample: the two input samples around it, and the share of the second. */
function taps(from: number, to: number) {
  const first = new Int32Array(to);
  const second = new Int32Array(to);
  const share = new Float64Array(to);
  for (let place = 0; place < to; place++) {
    const at = Math.max(0, ((place + 0.5) * from) / to - 0.5);
    first[place] = Math.min(from - 1, Math.floor(at));
    second[place] = Math.min(from - 1, first[place] + 1);
    share[place] = at - first[place];
  }
  return { first, second, share };
}
