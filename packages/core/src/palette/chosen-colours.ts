import type { Rgb } from '../pixels/index.js';

/** Colours chosen by hand, as #rrggbb. */
export interface ChosenColours {
  /** In the palette for certain, exactly. */
  readonly kept: readonly string[];
  /** Not in the palette, nor what is hardly different from them. */
  readonly dropped: readonly string[];
}

export const NO_CHOICE: ChosenColours = { kept: [], dropped: [] };

/** A colour as it is written in a recipe. */
export const COLOUR_PATTERN = /^#[0-9a-f]{6}$/;

/**
 * Colours nearer than this to a dropped one go with it, and make room for a kept one: levels in each channel.
 */
const SAME = 6;

export function colourOf(hex: string): Rgb {
  return [1, 3, 5].map((at) => Number.parseInt(hex.slice(at, at + 2), 16)) as unknown as Rgb;
}

export function hexOf(colour: Rgb): string {
  return `#${colour.map((level) => level.toString(16).padStart(2, '0')).join('')}`;
}

/**
 * A palette with what was chosen by hand. A kept colour takes the place of those that are hardly different;
 * where all is full, that of the nearest one that is not kept.
 * @param most entries that there may be.
 */
export function withChosen(palette: readonly Rgb[], { kept, dropped }: ChosenColours, most: number): Rgb[] {
  const isDropped = (colour: Rgb) => dropped.some((hex) => isSame(colour, colourOf(hex)));
  const keptColours = [...new Set(kept)].slice(0, most).map(colourOf);
  let rest = palette.filter(
    (colour) => !isDropped(colour) && !keptColours.some((one) => isSame(colour, one)),
  );
  for (const colour of keptColours) {
    if (rest.length + keptColours.length <= most) break;
    const nearest = rest.reduce((best, one) => (distance(one, colour) < distance(best, colour) ? one : best));
    rest = rest.filter((one) => one !== nearest);
  }
  const all = [...keptColours, ...rest.slice(0, most - keptColours.length)];
  return all.length > 0 ? all : [...palette].slice(0, 1);
}

function isSame(a: Rgb, b: Rgb): boolean {
  return a.every((level, c) => Math.abs(level - b[c]) <= SAME);
}

function distance(a: Rgb, b: Rgb): number {
  return a.reduce((sum, level, c) => sum + (level - b[c]) ** 2, 0);
}
