import type { Rgb } from './colour-cube.js';
import { colourDistance, LUMA, LUMA_WEIGHT } from './colour-distance.js';

/** Larger than any distance. */
const TOO_FAR = Number.MAX_VALUE;

/** The nearest palette entry of any sRGB colour, exactly. */
export interface NearestColour {
  /** The index of the entry nearest to the colour; of several alike, the one first in the palette. */
  find(red: number, green: number, blue: number): number;
  /** The same without keeping the answer: for colours that are asked for once. */
  search(red: number, green: number, blue: number): number;
}

/**
 * Exact search: entries sorted on green, walked outwards from the colour's own green until the green
 * difference alone is too far; answers are kept in a table over all 2²⁴ colours.
 * @throws RangeError for an empty palette or one of more than 256.
 */
export function createNearestColour(palette: readonly Rgb[]): NearestColour {
  const count = palette.length;
  if (count < 1 || count > 256) {
    throw new RangeError(`A palette holds 1 to 256 colours; got ${count}.`);
  }
  const order = palette.map((_, index) => index).sort((a, b) => palette[a][1] - palette[b][1] || a - b);
  const reds = Int32Array.from(order, (index) => palette[index][0]);
  const greens = Int32Array.from(order, (index) => palette[index][1]);
  const blues = Int32Array.from(order, (index) => palette[index][2]);
  const indices = Int32Array.from(order);
  const firstAtGreen = new Int32Array(256);
  for (let green = 0, at = 0; green < 256; green++) {
    while (at < count && greens[at] < green) at++;
    firstAtGreen[green] = at;
  }
  // Zero: not asked yet; else the answer + 1. The pages are only touched where colours occur.
  let known: Uint16Array | null = null;

  /** Walks away from the colour's green, upwards and downwards in turn, while that alone is not too far. */
  function search(red: number, green: number, blue: number): number {
    let best = Number.POSITIVE_INFINITY;
    let bestAt = 0;
    let up = firstAtGreen[green];
    let down = up - 1;
    while (up < count || down >= 0) {
      if (up < count) {
        const distance = distanceAt(up, red, green, blue, best);
        if (distance < best || (distance === best && indices[up] < indices[bestAt])) {
          best = distance;
          bestAt = up;
        }
        up = distance === TOO_FAR ? count : up + 1;
      }
      if (down >= 0) {
        const distance = distanceAt(down, red, green, blue, best);
        if (distance < best || (distance === best && indices[down] < indices[bestAt])) {
          best = distance;
          bestAt = down;
        }
        down = distance === TOO_FAR ? -1 : down - 1;
      }
    }
    return indices[bestAt];
  }

  /** The distance to one entry, or TOO_FAR when green alone is beyond the best so far. */
  function distanceAt(at: number, red: number, green: number, blue: number, best: number): number {
    const g = greens[at] - green;
    if (4 * g * g > best) return TOO_FAR;
    const r = reds[at] - red;
    const b = blues[at] - blue;
    const luma = LUMA[0] * r + LUMA[1] * g + LUMA[2] * b;
    return 2 * r * r + 4 * g * g + b * b + LUMA_WEIGHT * luma * luma;
  }

  return {
    search,
    find(red, green, blue) {
      const key = (red << 16) | (green << 8) | blue;
      known ??= new Uint16Array(1 << 24);
      const answer = known[key];
      if (answer !== 0) return answer - 1;
      const index = search(red, green, blue);
      known[key] = index + 1;
      return index;
    },
  };
}

/**
 * The plain way, kept as the reference that the fast search is tested against.
 */
export function nearestColourBySearch(palette: readonly Rgb[], colour: Rgb): number {
  let best = 0;
  for (let i = 1; i < palette.length; i++) {
    if (colourDistance(palette[i], colour) < colourDistance(palette[best], colour)) best = i;
  }
  return best;
}
