import { fromOpponent, type Rgb } from '../pixels/index.js';
import type { SettledReel } from '../settle/index.js';
import { type ChosenColours, NO_CHOICE, withChosen } from './chosen-colours.js';
import { countColours } from './colour-cube.js';
import { refineCentres } from './refine-centres.js';
import { cutByVariance } from './variance-cut.js';

/**
 * One palette for the loop. A reel that has no more colours than asked for keeps them exactly; else
 * a variance-minimising cut, then k-means.
 * @param colours 1–256.
 * @param chosen what is in the palette, or not in it, for certain.
 * @returns at most `colours` distinct colours, darkest first.
 */
export function buildPalette(reel: SettledReel, colours: number, chosen: ChosenColours = NO_CHOICE): Rgb[] {
  if (!Number.isInteger(colours) || colours < 1 || colours > 256) {
    throw new RangeError(`A palette holds 1 to 256 colours; ${colours} were asked for.`);
  }
  const cube = countColours(reel, colours);
  const palette = cube.exact
    ? [...cube.exact.keys()].map((key): Rgb => [key >> 16, (key >> 8) & 255, key & 255])
    : coloursOf(refineCentres(cube, cutByVariance(cube, colours)));
  // Where nothing is ever seen, one colour stands in the table all the same.
  if (palette.length === 0) return [[0, 0, 0]];
  return withChosen(distinct(palette), chosen, colours).sort((a, b) => luma(a) - luma(b));
}

function coloursOf(centres: Float64Array): Rgb[] {
  return Array.from({ length: centres.length / 3 }, (_, i) =>
    fromOpponent([centres[i * 3], centres[i * 3 + 1], centres[i * 3 + 2]]),
  );
}

function distinct(palette: readonly Rgb[]): Rgb[] {
  return [...new Map(palette.map((colour) => [colour.join(), colour])).values()];
}

function luma([red, green, blue]: Rgb): number {
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
}
