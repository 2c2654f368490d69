import { BLUE_SCALE, colourDistance, LUMA, RED_SCALE, type Rgb, toOpponent } from '../pixels/index.js';

/** The nearest palette entry of any sRGB colour, exactly. */
export interface NearestColour {
  /**
   * The index of the entry nearest to the colour; of several alike, the one first in the palette. Whole
   * levels, 0–255.
   */
  find(red: number, green: number, blue: number): number;
}

/**
 * The search, in luma and scaled colour differences: entries sorted on luma, walked outwards from the
 * colour's own until the difference in luma alone is too far.
 * @param values three an entry: luma 0–255, scaled B − Y, scaled R − Y (see toOpponent).
 * @returns the search; its hint is an entry that is likely near, which makes it faster and changes nothing
 * else.
 */
export function createOpponentSearch(
  values: Float64Array,
): (luma: number, blueDifference: number, redDifference: number, hint?: number) => number {
  const count = values.length / 3;
  const order = Array.from({ length: count }, (_, i) => i);
  order.sort((a, b) => values[a * 3] - values[b * 3] || a - b);
  const indices = Int32Array.from(order);
  const lumas = Float64Array.from(order, (i) => values[i * 3]);
  const blues = Float64Array.from(order, (i) => values[i * 3 + 1]);
  const reds = Float64Array.from(order, (i) => values[i * 3 + 2]);
  const firstAtLuma = new Int32Array(257);
  for (let luma = 0, at = 0; luma < 257; luma++) {
    while (at < count && lumas[at] < luma) at++;
    firstAtLuma[luma] = at;
  }

  return (luma, blueDifference, redDifference, hint = -1) => {
    let best = Number.POSITIVE_INFINITY;
    let bestIndex = count;
    if (hint >= 0) {
      const y = values[hint * 3] - luma;
      const u = values[hint * 3 + 1] - blueDifference;
      const v = values[hint * 3 + 2] - redDifference;
      best = y * y + u * u + v * v;
      bestIndex = hint;
    }
    let up = firstAtLuma[luma | 0];
    while (up < count && lumas[up] < luma) up++;
    let down = up - 1;
    while (up < count || down >= 0) {
      // The nearer side first: it narrows the search soonest.
      const isUp = down < 0 || (up < count && lumas[up] - luma <= luma - lumas[down]);
      const at = isUp ? up++ : down--;
      const y = lumas[at] - luma;
      const square = y * y;
      // Both sides are at least this far: nothing nearer is left.
      if (square > best) break;
      const u = blues[at] - blueDifference;
      const v = reds[at] - redDifference;
      const distance = square + u * u + v * v;
      if (distance < best || (distance === best && indices[at] < bestIndex)) {
        best = distance;
        bestIndex = indices[at];
      }
    }
    return bestIndex;
  };
}

/** Three a colour: luma, scaled B − Y, scaled R − Y. */
export function opponentValues(palette: readonly Rgb[]): Float64Array {
  return Float64Array.from(palette.flatMap((colour) => toOpponent(colour)));
}

/** Colour values (three each) with their differences of colour scaled. */
export function scaleChroma(values: Float64Array, scale: number): Float64Array {
  return values.map((value, i) => (i % 3 === 0 ? value : value * scale));
}

/** Answers that are kept at once. */
const SLOT_BITS = 15;
const SLOTS = 1 << SLOT_BITS;
const SLOT_SHIFT = 32 - SLOT_BITS;

/**
 * Exact search; answers are kept for as long as no other colour takes their slot.
 * @param chromaShare what squared differences of colour count beside those of light, see CHROMA_SHARES.
 * @throws RangeError for an empty palette or one of more than 256.
 */
export function createNearestColour(palette: readonly Rgb[], chromaShare = 1): NearestColour {
  const count = palette.length;
  if (count < 1 || count > 256) {
    throw new RangeError(`A palette holds 1 to 256 colours; got ${count}.`);
  }
  const scale = Math.sqrt(chromaShare);
  const search = createOpponentSearch(scaleChroma(opponentValues(palette), scale));
  // The last answer of each slot. Small enough to stay near the processor; a table of all colours was slower.
  const keys = new Int32Array(SLOTS).fill(-1);
  const answers = new Uint8Array(SLOTS);
  return {
    find(red, green, blue) {
      const key = (red << 16) | (green << 8) | blue;
      const slot = Math.imul(key, 0x9e3779b1) >>> SLOT_SHIFT;
      if (keys[slot] === key) return answers[slot];
      const luma = LUMA[0] * red + LUMA[1] * green + LUMA[2] * blue;
      const index = search(luma, (blue - luma) * BLUE_SCALE * scale, (red - luma) * RED_SCALE * scale);
      keys[slot] = key;
      answers[slot] = index;
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
