import type { Size } from '../../pixels/index.js';
import type { LumaPicture } from '../luma-picture.js';

/** Central differences across and down, levels a pixel; the border is repeated. */
export interface Gradients {
  readonly across: Float32Array;
  readonly down: Float32Array;
}

export function gradientsOf({ width, height, values }: LumaPicture): Gradients {
  const across = new Float32Array(values.length);
  const down = new Float32Array(values.length);
  for (let y = 0, p = 0; y < height; y++) {
    const above = y > 0 ? width : 0;
    const below = y < height - 1 ? width : 0;
    for (let x = 0; x < width; x++, p++) {
      across[p] = 0.5 * (values[x < width - 1 ? p + 1 : p] - values[x > 0 ? p - 1 : p]);
      down[p] = 0.5 * (values[p + below] - values[p - above]);
    }
  }
  return { across, down };
}

/** Bilinear from one size to another; places are those of pixel centres. */
export function resizedPlane({ width, height, values }: LumaPicture, to: Size, times = 1): Float32Array {
  const out = new Float32Array(to.width * to.height);
  const lefts = new Int32Array(to.width);
  const overs = new Float64Array(to.width);
  for (let x = 0; x < to.width; x++) {
    const fromX = within(((x + 0.5) * width) / to.width - 0.5, width);
    lefts[x] = Math.floor(fromX);
    overs[x] = fromX - lefts[x];
  }
  for (let y = 0, p = 0; y < to.height; y++) {
    const fromY = within(((y + 0.5) * height) / to.height - 0.5, height);
    const top = Math.floor(fromY);
    const below = top < height - 1 ? width : 0;
    const down = fromY - top;
    for (let x = 0; x < to.width; x++, p++) {
      const over = overs[x];
      const right = lefts[x] < width - 1 ? 1 : 0;
      const q = top * width + lefts[x];
      const upper = values[q] * (1 - over) + values[q + right] * over;
      const lower = values[q + below] * (1 - over) + values[q + below + right] * over;
      out[p] = times * (upper * (1 - down) + lower * down);
    }
  }
  return out;
}

function within(place: number, count: number): number {
  return Math.max(0, Math.min(count - 1, place));
}
