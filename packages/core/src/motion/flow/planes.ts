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

/** Mean over a square of 2 · radius + 1 pixels, cut off at the edges; running sums. */
export function boxMean({ width, height, values }: LumaPicture, radius: number): Float32Array {
  const across = new Float32Array(values.length);
  for (let y = 0; y < height; y++) meanAlong(values, across, y * width, 1, width, radius);
  const out = new Float32Array(values.length);
  for (let x = 0; x < width; x++) meanAlong(across, out, x, width, height, radius);
  return out;
}

/** Running mean of one row or column: `count` values, `step` apart, from `first` on. */
function meanAlong(
  from: Float32Array,
  to: Float32Array,
  first: number,
  step: number,
  count: number,
  radius: number,
): void {
  let [sum, within] = [0, 0];
  for (let i = 0; i < Math.min(count, radius); i++, within++) sum += from[first + i * step];
  for (let i = 0; i < count; i++) {
    if (i + radius < count) {
      sum += from[first + (i + radius) * step];
      within++;
    }
    if (i - radius - 1 >= 0) {
      sum -= from[first + (i - radius - 1) * step];
      within--;
    }
    to[first + i * step] = sum / within;
  }
}

/** Bilinear from one size to another; places are those of pixel centres. */
export function resizedPlane({ width, height, values }: LumaPicture, to: Size, times = 1): Float32Array {
  const out = new Float32Array(to.width * to.height);
  for (let y = 0, p = 0; y < to.height; y++) {
    const fromY = within(((y + 0.5) * height) / to.height - 0.5, height);
    const top = Math.floor(fromY);
    const below = top < height - 1 ? width : 0;
    const down = fromY - top;
    for (let x = 0; x < to.width; x++, p++) {
      const fromX = within(((x + 0.5) * width) / to.width - 0.5, width);
      const left = Math.floor(fromX);
      const right = left < width - 1 ? 1 : 0;
      const over = fromX - left;
      const q = top * width + left;
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
