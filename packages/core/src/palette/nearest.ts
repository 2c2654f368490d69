import type { Rgb } from './colour-cube.js';

/**
 * Luma-weighted squared distance between two sRGB colours, ×7 of a plain squared level:
 * (2ΔR² + 4ΔG² + ΔB²). Whole numbers, at most 455 175.
 */
export function colourDistance(a: Rgb, b: Rgb): number {
  const r = a[0] - b[0];
  const g = a[1] - b[1];
  const blue = a[2] - b[2];
  return 2 * r * r + 4 * g * g + blue * blue;
}

/** The nearest palette entry of any sRGB colour, exactly. */
export interface NearestColour {
  /** The index of the entry nearest to the colour; of several alike, the one first in the palette. */
  find(red: number, green: number, blue: number): number;
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
  const known = new Uint16Array(1 << 24);

  function search(red: number, green: number, blue: number): number {
    let best = Number.POSITIVE_INFINITY;
    let bestIndex = 0;
    let up = firstAtGreen[green];
    let down = up - 1;
    let going = true;
    while (going) {
      going = false;
      if (up < count) {
        const g = greens[up] - green;
        if (4 * g * g <= best) {
          const r = reds[up] - red;
          const b = blues[up] - blue;
          const distance = 2 * r * r + 4 * g * g + b * b;
          if (distance < best || (distance === best && indices[up] < bestIndex)) {
            best = distance;
            bestIndex = indices[up];
          }
          up++;
          going = true;
        } else up = count;
      }
      if (down >= 0) {
        const g = greens[down] - green;
        if (4 * g * g <= best) {
          const r = reds[down] - red;
          const b = blues[down] - blue;
          const distance = 2 * r * r + 4 * g * g + b * b;
          if (distance < best || (distance === best && indices[down] < bestIndex)) {
            best = distance;
            bestIndex = indices[down];
          }
          down--;
          going = true;
        } else down = -1;
      }
    }
    return bestIndex;
  }

  return {
    find(red, green, blue) {
      const key = (red << 16) | (green << 8) | blue;
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
