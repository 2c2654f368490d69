import type { SettledReel } from '../settle/index.js';
import { type ChosenColours, NO_CHOICE, withChosen } from './chosen-colours.js';
import { type ColourCube, countColours, type Rgb } from './colour-cube.js';
import { createNearestColour } from './nearest.js';
import { cutByVariance } from './variance-cut.js';

/**
 * One palette for the loop. A reel that has no more colours than asked for keeps them exactly; else
 * a variance-minimising cut, then one k-means reassignment.
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
    : reassign(cube, cutByVariance(cube, colours));
  // Where nothing is ever seen, one colour stands in the table all the same.
  if (palette.length === 0) return [[0, 0, 0]];
  return withChosen(distinct(palette), chosen, colours).sort((a, b) => luma(a) - luma(b));
}

/** One step of k-means over the histogram's bins: each colour moves to the mean of what it serves. */
function reassign(cube: ColourCube, palette: readonly Rgb[]): Rgb[] {
  const nearest = createNearestColour(palette);
  const weight = new Float64Array(palette.length);
  const sums = new Float64Array(palette.length * 3);
  for (const bin of cube.used) {
    const w = cube.weight[bin];
    const r = cube.sumR[bin];
    const g = cube.sumG[bin];
    const b = cube.sumB[bin];
    const index = nearest.search((r / w + 0.5) | 0, (g / w + 0.5) | 0, (b / w + 0.5) | 0);
    weight[index] += w;
    sums[index * 3] += r;
    sums[index * 3 + 1] += g;
    sums[index * 3 + 2] += b;
  }
  return palette.map((colour, i): Rgb => {
    if (weight[i] === 0) return colour;
    return [
      Math.round(sums[i * 3] / weight[i]),
      Math.round(sums[i * 3 + 1] / weight[i]),
      Math.round(sums[i * 3 + 2] / weight[i]),
    ];
  });
}

function distinct(palette: readonly Rgb[]): Rgb[] {
  return [...new Map(palette.map((colour) => [colour.join(), colour])).values()];
}

function luma([red, green, blue]: Rgb): number {
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
}
