import {
  darkestFirst,
  type ParallelJob,
  type PixelFrame,
  type Rgb,
  SINGLE_THREAD,
  type ThreadPool,
} from '../pixels/index.js';
import type { SettledReel } from '../settle/index.js';
import { type MadePalette, paletteOfHistogram } from './build-palette.js';
import type { ChosenColours } from './chosen-colours.js';
import { countColours } from './colour-histogram.js';

/** How many palettes a loop has: as many as pay, one, or one for each frame. */
export const PALETTE_PLANS = ['auto', 'loop', 'frame'] as const;
export type PalettePlan = (typeof PALETTE_PLANS)[number];

/** The palettes of a reel, and which of them each frame is drawn with. */
export interface ReelPalettes {
  readonly palettes: readonly (readonly Rgb[])[];
  /** One a frame: its place in `palettes`. */
  readonly paletteOf: readonly number[];
}

export interface PalettePlanOptions {
  readonly plan: PalettePlan;
  /** Colours in each palette, 1–256. */
  readonly colours: number;
  readonly chosen: ChosenColours;
  /** The cost of a byte, in weighted squared levels: the one at which pixels were settled. */
  readonly bytePrice: number;
}

/** Fewer colours than this are asked for to have few; one of 256 stands for what does not change. */
const ALL_COLOURS = 255;

/** Whether a loop has one palette whatever is in it: one was asked for, or few colours. */
export function hasOnePalette(plan: PalettePlan, colours: number): boolean {
  return plan === 'loop' || (plan === 'auto' && colours < ALL_COLOURS);
}

/**
 * Two palettes err less than one by more than this share: by 2.5 % on _koi_, 17 to 24 % on what mostly stands
 * still.
 */
const SURE_GAIN = 0.02;
/** A colour table of 256 entries: bytes. */
const TABLE_BYTES = 768;

/** Palettes to be made, one a part of the reel. */
export interface PaletteWork extends ParallelJob<'palettes'> {
  readonly frames: readonly PixelFrame[];
  readonly durations: readonly Uint16Array[];
  readonly masking: Float32Array;
  readonly chroma: Uint8Array;
  /** First frames of the parts, and the end of the last. */
  readonly bounds: readonly number[];
  readonly colours: number;
  readonly chosen: ChosenColours;
  /**
   * What is written: room for 256 colours a part, how many there are (0: nothing is drawn), whether all are
   * exact, and the error.
   */
  readonly tables: Uint8Array;
  readonly sizes: Int32Array;
  readonly exact: Uint8Array;
  readonly errors: Float64Array;
}

/** What one thread makes palettes with. */
export function startPalettes(work: PaletteWork) {
  const { bounds, colours, chosen, tables, sizes, exact, errors } = work;
  return (part: number): void => {
    const histogram = countColours(work, bounds[part], bounds[part + 1], colours);
    // The first part has a palette though nothing may be seen in it.
    if (histogram.bins === 0 && part > 0) return;
    const { palette, error } = paletteOfHistogram(histogram, colours, chosen);
    tables.set(palette.flat(), part * TABLE_BYTES);
    sizes[part] = palette.length;
    exact[part] = histogram.exact ? 1 : 0;
    errors[part] = error;
  };
}

function makeInParts(
  { frames, durations, masking, chroma }: SettledReel,
  bounds: readonly number[],
  { colours, chosen }: PalettePlanOptions,
  threads: ThreadPool,
): (MadePalette & { readonly isExact: boolean })[] {
  const parts = bounds.length - 1;
  const work: PaletteWork = {
    ...{ kind: 'palettes', frames, durations, masking, chroma, bounds, colours, chosen },
    tables: new Uint8Array(threads.allocate(parts * TABLE_BYTES)),
    sizes: new Int32Array(threads.allocate(parts * 4)),
    exact: new Uint8Array(threads.allocate(parts)),
    errors: new Float64Array(threads.allocate(parts * 8)),
  };
  threads.run(work, parts, startPalettes);
  return Array.from({ length: parts }, (_, part) => ({
    palette: Array.from({ length: work.sizes[part] }, (_, entry): Rgb => {
      const at = part * TABLE_BYTES + entry * 3;
      return [work.tables[at], work.tables[at + 1], work.tables[at + 2]];
    }),
    error: work.errors[part],
    isExact: work.exact[part] === 1,
  }));
}

/**
 * Chooses the palettes of a settled reel. `auto`: what is drawn where a scene begins, the first frame above
 * all, stays for long and has a palette of its own; what changes after it has another. They are kept apart
 * where the error saved is worth more than the bytes of their tables.
 * @param threads who makes them; with more threads than one, the reel's arrays must lie in memory from its
 * `allocate`.
 */
export function planPalettes(
  reel: SettledReel,
  options: PalettePlanOptions,
  threads: ThreadPool = SINGLE_THREAD,
): ReelPalettes {
  const { plan, colours } = options;
  const count = reel.frames.length;
  const starts = hasOnePalette(plan, colours)
    ? [0]
    : plan === 'frame'
      ? [...reel.frames.keys()]
      : partStarts(reel);
  const bounds = [...starts, count];
  const parts = makeInParts(reel, bounds, options, threads);
  if (parts.length === 1) return onePalette(reel, parts[0].palette);
  const few = exactTogether(parts, colours);
  if (few) return onePalette(reel, few);

  const palettes: (readonly Rgb[])[] = [];
  const paletteOf = new Array<number>(count).fill(0);
  parts.forEach(({ palette }, part) => {
    // A part in which nothing is drawn goes on with the palette before it.
    if (palette.length > 0) palettes.push(palette);
    paletteOf.fill(palettes.length - 1, bounds[part], bounds[part + 1]);
  });
  if (plan === 'frame') return { palettes, paletteOf };
  const apart = parts.reduce((sum, { error }) => sum + error, 0);
  const price = (palettes.length - 1) * TABLE_BYTES * options.bytePrice;
  // Where the error is large beside the price there is no doubt, and the one palette need not be made to see
  // it.
  if (apart * SURE_GAIN > price) return { palettes, paletteOf };
  const [one] = makeInParts(reel, [0, count], options, threads);
  return one.error - apart > price ? { palettes, paletteOf } : onePalette(reel, one.palette);
}

/** All colours of all parts, where they are exact and no more than one palette holds. */
function exactTogether(
  parts: readonly { palette: readonly Rgb[]; isExact: boolean }[],
  most: number,
): readonly Rgb[] | null {
  const all = new Map<string, Rgb>();
  for (const { palette, isExact } of parts) {
    if (palette.length > 0 && !isExact) return null;
    for (const colour of palette) all.set(colour.join(), colour);
    if (all.size > most) return null;
  }
  return [...all.values()].sort(darkestFirst);
}

/** The whole reel in one palette. */
export function onePalette({ frames }: Pick<SettledReel, 'frames'>, palette: readonly Rgb[]): ReelPalettes {
  return { palettes: [palette], paletteOf: frames.map(() => 0) };
}

/** Frames where another palette may begin: every scene, and what changes after its first frame. */
function partStarts({ scenes, frames }: SettledReel): number[] {
  const starts = new Set(scenes.flatMap((scene) => [scene, scene + 1]).filter((f) => f < frames.length));
  return [...starts].sort((a, b) => a - b);
}
