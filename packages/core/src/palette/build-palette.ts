import { darkestFirst, fromOpponent, type Rgb } from '../pixels/index.js';
import type { SettledReel } from '../settle/index.js';
import { type ChosenColours, NO_CHOICE, withChosen } from './chosen-colours.js';
import { type ColourHistogram, countColours } from './colour-histogram.js';
import { startClusters } from './fast-clusters.js';
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
  return paletteOfHistogram(countColours(reel, 0, reel.frames.length, colours), colours, chosen).palette;
}

/** A palette, and how far off it is: weighted squared error, before what was chosen by hand is put in. */
export interface MadePalette {
  readonly palette: Rgb[];
  readonly error: number;
}

/** The same for what was counted already. */
export function paletteOfHistogram(
  histogram: ColourHistogram,
  colours: number,
  chosen: ChosenColours,
): MadePalette {
  if (!Number.isInteger(colours) || colours < 1 || colours > 256) {
    throw new RangeError(`A palette holds 1 to 256 colours; ${colours} were asked for.`);
  }
  // Where nothing is ever seen, one colour stands in the table all the same.
  if (histogram.bins === 0) return { palette: [[0, 0, 0]], error: 0 };
  const { centres, error } = histogram.exact
    ? { centres: [...histogram.exact].map((key): Rgb => [key >> 16, (key >> 8) & 255, key & 255]), error: 0 }
    : refined(histogram, colours);
  const palette = withChosen(distinct(centres), chosen, colours).sort(darkestFirst);
  return { palette, error };
}

function refined(histogram: ColourHistogram, colours: number): { centres: Rgb[]; error: number } {
  const clusters = startClusters(histogram);
  const start = clusters?.cut(colours) ?? cutByVariance(histogram, colours);
  const { centres, error } = refineCentres(histogram, start, clusters?.move);
  return { centres: coloursOf(centres), error };
}

function coloursOf(centres: Float64Array): Rgb[] {
  return Array.from({ length: centres.length / 3 }, (_, i) =>
    fromOpponent([centres[i * 3], centres[i * 3 + 1], centres[i * 3 + 2]]),
  );
}

function distinct(palette: readonly Rgb[]): Rgb[] {
  return [...new Map(palette.map((colour) => [colour.join(), colour])).values()];
}
