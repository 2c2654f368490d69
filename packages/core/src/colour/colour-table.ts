import type { ColourFunction } from './grade.js';

/** Nodes a side that settings are folded into. */
export const TABLE_SIZE = 33;

/** Colours at the nodes of a cube over all colours. */
export interface ColourTable {
  /** Nodes a side. */
  readonly size: number;
  /** Where the nodes lie on each axis, sRGB-coded levels 0–255, rising. */
  readonly knots: Float64Array;
  /** Red, green, blue and a zero for each node, in levels; red runs fastest. May lie outside 0–255. */
  readonly nodes: Float32Array;
}

/** Nodes lie closer in the dark, where coded values bend most. */
const DENSER_IN_THE_DARK = 1.7;

export function denseKnots(size: number): Float64Array {
  return Float64Array.from({ length: size }, (_, i) => 255 * (i / (size - 1)) ** DENSER_IN_THE_DARK);
}

export function evenKnots(size: number): Float64Array {
  return Float64Array.from({ length: size }, (_, i) => (255 * i) / (size - 1));
}

/** A function of single colours, known at the nodes only. */
export function foldColours(change: ColourFunction, knots = denseKnots(TABLE_SIZE)): ColourTable {
  const size = knots.length;
  const nodes = new Float32Array(size ** 3 * 4);
  const colour = new Float64Array(3);
  let at = 0;
  for (let b = 0; b < size; b++) {
    for (let g = 0; g < size; g++) {
      for (let r = 0; r < size; r++) {
        colour[0] = knots[r] / 255;
        colour[1] = knots[g] / 255;
        colour[2] = knots[b] / 255;
        change(colour);
        nodes[at++] = colour[0] * 255;
        nodes[at++] = colour[1] * 255;
        nodes[at++] = colour[2] * 255;
        at++;
      }
    }
  }
  return { size, knots, nodes };
}

/** Where each level lies on an axis: the node before it, and how far it is on the way to the next. */
export interface LevelPlaces {
  readonly cell: Uint8Array;
  /** 0–FRACTION. */
  readonly fraction: Uint16Array;
}

/** One cell. */
export const FRACTION = 16384;

export function levelPlaces(knots: Float64Array): LevelPlaces {
  const cell = new Uint8Array(256);
  const fraction = new Uint16Array(256);
  for (let level = 0, at = 0; level < 256; level++) {
    while (at < knots.length - 2 && knots[at + 1] <= level) at++;
    cell[level] = at;
    fraction[level] = Math.round(((level - knots[at]) / (knots[at + 1] - knots[at])) * FRACTION);
  }
  return { cell, fraction };
}
