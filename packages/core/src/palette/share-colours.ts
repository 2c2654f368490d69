import { darkestFirst, type Rgb } from '../pixels/index.js';
import { visitStarts } from '../settle/index.js';
import type { PlannedReel } from './map-colours.js';

/** All colours of a reel, and how much of the picture each is. */
export interface SharedColours {
  /** Each once, darkest first. */
  readonly palette: readonly Rgb[];
  /** Of all pixels, weighted by how long they are shown, 0–1; before pixel runs are merged. */
  readonly shares: readonly number[];
}

/** Counts the colours of a reel, part after part. */
export interface ColourCounter {
  add(part: PlannedReel): void;
  result(): SharedColours;
}

export function createColourCounter(): ColourCounter {
  const byColour = new Map<string, { colour: Rgb; count: number }>();
  let total = 0;
  return {
    add({ plans, durations, palettes, paletteOf }) {
      const counts = palettes.map((palette) => new Float64Array(palette.length));
      for (const [f, plan] of plans.entries()) {
        const lengths = durations[f];
        const count = counts[paletteOf[f]];
        visitStarts(lengths, (p) => {
          count[plan[p]] += lengths[p];
          total += lengths[p];
        });
      }
      palettes.forEach((palette, i) => {
        palette.forEach((colour, entry) => {
          const key = colour.join();
          const count = (byColour.get(key)?.count ?? 0) + counts[i][entry];
          byColour.set(key, { colour, count });
        });
      });
    },
    result() {
      const all = [...byColour.values()].sort((a, b) => darkestFirst(a.colour, b.colour));
      return {
        palette: all.map(({ colour }) => colour),
        shares: all.map(({ count }) => (total > 0 ? count / total : 0)),
      };
    },
  };
}
