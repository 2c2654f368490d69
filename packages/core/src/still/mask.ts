import type { Rect, Size } from '../pixels/index.js';

/** How much each place may move: 0 is held, 255 moves. Row-major, one byte a pixel. */
export interface Mask extends Size {
  readonly values: Uint8Array;
}

/** Longest side of a painted mask, px. */
export const LONGEST_MASK_SIDE = 1920;

/**
 * A mask over the given bytes, or one that holds everything.
 * @throws RangeError when the bytes do not fit the size.
 */
export function createMask(width: number, height: number, values?: Uint8Array): Mask {
  if (!Number.isInteger(width) || !Number.isInteger(height) || width < 1 || height < 1) {
    throw new RangeError(`A mask needs whole sides of at least 1 px; got ${width} × ${height}.`);
  }
  if (values && values.length !== width * height) {
    throw new RangeError(
      `A mask of ${width} × ${height} px needs ${width * height} bytes; got ${values.length}.`,
    );
  }
  return { width, height, values: values ?? new Uint8Array(width * height) };
}

export function invertMask({ width, height, values }: Mask): Mask {
  const inverted = new Uint8Array(values.length);
  for (let i = 0; i < values.length; i++) inverted[i] = 255 - values[i];
  return createMask(width, height, inverted);
}

/** Where either moves. */
export function joinMasks(a: Mask, b: Mask): Mask {
  assertAlike(a, b);
  const joined = new Uint8Array(a.values.length);
  for (let i = 0; i < joined.length; i++) joined[i] = Math.max(a.values[i], b.values[i]);
  return createMask(a.width, a.height, joined);
}

/** Where the first moves and the second does not. */
export function cutMask(a: Mask, b: Mask): Mask {
  assertAlike(a, b);
  const cut = new Uint8Array(a.values.length);
  for (let i = 0; i < cut.length; i++) cut[i] = Math.min(a.values[i], 255 - b.values[i]);
  return createMask(a.width, a.height, cut);
}

function assertAlike(a: Size, b: Size): void {
  if (a.width !== b.width || a.height !== b.height) {
    throw new RangeError(
      `Masks of ${a.width} × ${a.height} and ${b.width} × ${b.height} px cannot be joined.`,
    );
  }
}

/** What share of the places moves, 0–1. */
export function movingShare({ values }: Mask): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i];
  return sum / values.length / 255;
}

/**
 * A mask in another size: bilinear where it grows, the mean of what a pixel covers where it shrinks.
 * @param window the part of the mask that is wanted, in its pixels; all by default.
 */
export function resizeMask(mask: Mask, size: Size, window?: Rect): Mask {
  const part = window ?? { x: 0, y: 0, width: mask.width, height: mask.height };
  if (size.width === mask.width && size.height === mask.height && !window) return mask;
  const out = createMask(size.width, size.height);
  const across = spans(part.x, part.width, size.width, mask.width);
  const down = spans(part.y, part.height, size.height, mask.height);
  const row = new Float32Array(mask.width);
  for (let y = 0; y < size.height; y++) {
    row.fill(0);
    for (const [from, weight] of down[y]) {
      const at = from * mask.width;
      for (let x = 0; x < mask.width; x++) row[x] += mask.values[at + x] * weight;
    }
    for (let x = 0; x < size.width; x++) {
      let sum = 0;
      for (const [from, weight] of across[x]) sum += row[from] * weight;
      out.values[y * size.width + x] = Math.round(sum);
    }
  }
  return out;
}

/**
 * For each target pixel the source pixels it is made of, with weights that add up to 1: a triangle as wide as
 * the step, at least one pixel.
 */
function spans(
  start: number,
  length: number,
  count: number,
  most: number,
): [from: number, weight: number][][] {
  const step = length / count;
  const reach = Math.max(1, step);
  return Array.from({ length: count }, (_, target) => {
    const centre = start + (target + 0.5) * step - 0.5;
    const weights = new Map<number, number>();
    let total = 0;
    for (let from = Math.ceil(centre - reach); from <= centre + reach; from++) {
      const weight = 1 - Math.abs(from - centre) / reach;
      if (weight <= 0) continue;
      const inside = Math.max(0, Math.min(most - 1, from));
      weights.set(inside, (weights.get(inside) ?? 0) + weight);
      total += weight;
    }
    return [...weights].map(([from, weight]): [number, number] => [from, weight / total]);
  });
}
