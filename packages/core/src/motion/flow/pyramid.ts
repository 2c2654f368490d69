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
  for (let y = 0; y < height; y++) {
    halveAlong(values, { first: y * width, step: 1, count: width }, across, {
      ...{ first: y * half.width, step: 1, count: half.width },
    });
  }
  const out = new Float32Array(half.width * half.height);
  for (let x = 0; x < half.width; x++) {
    halveAlong(across, { first: x, step: half.width, count: height }, out, {
      ...{ first: x, step: half.width, count: half.height },
    });
  }
  return { ...half, values: out };
}

/** A row or a column of a picture. */
interface Line {
  readonly first: number;
  readonly step: number;
  readonly count: number;
}

function halveAlong(from: Float32Array, source: Line, to: Float32Array, target: Line): void {
  const last = source.count - 1;
  const valueAt = (i: number) => from[source.first + Math.max(0, Math.min(last, i)) * source.step];
  for (let i = 0; i < target.count; i++) {
    const outer = valueAt(2 * i - 1) + valueAt(2 * i + 2);
    const inner = valueAt(2 * i) + valueAt(2 * i + 1);
    to[target.first + i * target.step] = (outer + 3 * inner) / 8;
  }
}
