import type { LumaPicture } from '../luma-picture.js';

/** The shorter side of the smallest picture of a pyramid, at least, px. */
const LEAST_SIDE = 10;
const MOST_LEVELS = 7;

/** A picture, half of it, a quarter …; the largest first. */
export function pyramidOf(picture: LumaPicture): readonly LumaPicture[] {
  const levels = [picture];
  for (let last = picture; levels.length < MOST_LEVELS; levels.push(last)) {
    if (Math.min(last.width, last.height) < 2 * LEAST_SIDE) break;
    last = halfOf(last);
  }
  return levels;
}

/** Half the size by a binomial of 1 3 3 1 each way: nothing shifts, and little of what is finer is left. */
function halfOf({ width, height, values }: LumaPicture): LumaPicture {
  const half = { width: Math.max(1, width >> 1), height: Math.max(1, height >> 1) };
  const across = new Float32Array(half.width * height);
  for (let y = 0, to = 0; y < height; y++) {
    const [first, last] = [y * width, (y + 1) * width - 1];
    for (let at = first, i = 0; i < half.width; i++, at += 2, to++) {
      const outer = values[Math.max(first, at - 1)] + values[Math.min(last, at + 2)];
      across[to] = (outer + 3 * (values[at] + values[Math.min(last, at + 1)])) / 8;
    }
  }
  const out = new Float32Array(half.width * half.height);
  const rowAt = (y: number) => Math.max(0, Math.min(height - 1, y)) * half.width;
  for (let y = 0, to = 0; y < half.height; y++) {
    const [above, first, second, below] = [-1, 0, 1, 2].map((down) => rowAt(2 * y + down));
    for (let x = 0; x < half.width; x++, to++) {
      const outer = across[above + x] + across[below + x];
      out[to] = (outer + 3 * (across[first + x] + across[second + x])) / 8;
    }
  }
  return { ...half, values: out };
}
