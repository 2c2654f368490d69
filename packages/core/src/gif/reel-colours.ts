import {
  createNearestColour,
  type NearestColour,
  opponentValues,
  type ReelPalettes,
} from '../palette/index.js';
import type { Rgb } from '../pixels/index.js';
import { findNearColours } from './near-colours.js';

/** The colours of one palette, and where they stand among those of the whole reel. */
export interface FramePalette {
  readonly palette: readonly Rgb[];
  /** The id of each entry. */
  readonly ids: Uint32Array;
  /** The entry of each id, or −1 where this palette has none; until another palette is asked. */
  readonly entries: () => Int16Array;
  /** For every entry its nearest others; see findNearColours. */
  readonly near: () => Int16Array;
  /** The entry that is nearest to the colour of an id. */
  nearestTo(id: number): number;
}

/** The id that stands for nothing shown. */
export const NOTHING = 0;

/**
 * The colours of all palettes of a reel, each once, so that what one frame shows can be told in the palette
 * of another.
 */
export interface ReelColours {
  /** Three an id: luma, scaled B − Y, scaled R − Y. */
  readonly values: () => Float64Array;
  /** Takes the palettes of a part of the reel in. */
  number(palettes: ReelPalettes['palettes']): FramePalette[];
}

export function createReelColours(): ReelColours {
  const idOf = new Map<number, number>();
  // Nothing has a number too, and no colour that counts.
  const colours: Rgb[] = [[0, 0, 0]];
  let values = opponentValues(colours);
  // One table serves all palettes in turn: a palette for each frame of a long reel has a hundred thousand
  // ids.
  let entries = new Int16Array(0);
  let asked = new Uint32Array(0);
  const entriesOf = (ids: Uint32Array<ArrayBuffer>): Int16Array => {
    if (entries.length < colours.length) entries = new Int16Array(colours.length * 2).fill(-1);
    else if (asked === ids) return entries;
    else for (const id of asked) entries[id] = -1;
    // Of two entries alike the first is taken.
    for (let entry = ids.length - 1; entry >= 0; entry--) entries[ids[entry]] = entry;
    asked = ids;
    return entries;
  };
  return {
    values: () => values,
    number(palettes) {
      const ids = palettes.map((palette) =>
        Uint32Array.from(palette, (colour) => {
          const key = (colour[0] << 16) | (colour[1] << 8) | colour[2];
          const known = idOf.get(key);
          if (known !== undefined) return known;
          idOf.set(key, colours.length);
          return colours.push(colour) - 1;
        }),
      );
      values = opponentValues(colours);
      return palettes.map((palette, i) => framePalette(palette, ids[i], colours, () => entriesOf(ids[i])));
    },
  };
}

function framePalette(
  palette: readonly Rgb[],
  ids: Uint32Array,
  colours: readonly Rgb[],
  entries: () => Int16Array,
): FramePalette {
  let near: Int16Array | null = null;
  let nearest: NearestColour | null = null;
  return {
    palette,
    ids,
    entries,
    near() {
      near ??= findNearColours(palette);
      return near;
    },
    nearestTo(id) {
      nearest ??= createNearestColour(palette);
      return nearest.find(...colours[id]);
    },
  };
}
