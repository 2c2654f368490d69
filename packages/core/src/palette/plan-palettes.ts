import type { Rgb } from '../pixels/index.js';
import type { SettledReel } from '../settle/index.js';
import { type MadePalette, paletteOfCube } from './build-palette.js';
import type { ChosenColours } from './chosen-colours.js';
import { countColours, mergeCubes } from './colour-cube.js';

/** How many palettes a loop has: as many as pay, one, or one for each frame. */
export const PALETTE_PLANS = ['auto', 'loop', 'frame'] as const;
export type PalettePlan = (typeof PALETTE_PLANS)[number];

/** The palettes of a reel, and which of them each frame is drawn with. */
export interface ReelPalettes {
  readonly palettes: readonly (readonly Rgb[])[];
  /** One a frame: its place in `palettes`. */
  readonly of: readonly number[];
}

export interface PaletteWishes {
  readonly plan: PalettePlan;
  /** Colours in each palette, 1–256. */
  readonly colours: number;
  readonly chosen: ChosenColours;
  /** What a byte is worth, in weighted squared levels: the price at which pixels were settled. */
  readonly bytePrice: number;
}

/** Fewer colours than this were asked for to have few: then `auto` is one palette. */
const ALL_COLOURS = 255;
/** Where so much of the picture is redrawn at once, a scene begins. */
const SCENE_SHARE = 0.5;
/** Several palettes err less than one by more than this share; by 6 % and more on footage. */
const SURE_GAIN = 0.02;
/** A colour table of 256 entries. */
const TABLE_BYTES = 768;

/**
 * Chooses the palettes of a settled reel. `auto`: what is drawn where a scene begins, the first frame above all, stays
 * for long and has a palette of its own; what changes after it has another. They are kept apart where the error saved is
 * worth more than the bytes of their tables.
 */
export function planPalettes(reel: SettledReel, wishes: PaletteWishes): ReelPalettes {
  const { plan, colours, chosen } = wishes;
  const count = reel.frames.length;
  const starts = plan === 'frame' ? [...reel.frames.keys()] : plan === 'auto' ? partStarts(reel) : [0];
  const cubes = starts.map((from, i) => countColours(reel, from, starts[i + 1] ?? count, colours));
  const whole = mergeCubes(cubes, colours);
  const isOne = starts.length === 1 || whole.exact !== null || (plan === 'auto' && colours < ALL_COLOURS);
  const together = () => paletteOfCube(whole, colours, chosen);
  if (isOne) return onePalette(reel, together().palette);

  // A part in which nothing is drawn goes on with the palette before it.
  const made: MadePalette[] = [];
  const of = new Array<number>(count).fill(0);
  starts.forEach((from, i) => {
    if (cubes[i].bins > 0 || made.length === 0) made.push(paletteOfCube(cubes[i], colours, chosen));
    of.fill(made.length - 1, from, starts[i + 1] ?? count);
  });
  const many: ReelPalettes = { palettes: made.map(({ palette }) => palette), of };
  if (plan === 'frame') return many;
  const apart = made.reduce((sum, { error }) => sum + error, 0);
  const price = (made.length - 1) * TABLE_BYTES * wishes.bytePrice;
  // Where the error is large beside the price there is no doubt, and the one palette need not be made to see it.
  if (apart * SURE_GAIN > price) return many;
  const one = together();
  return one.error - apart > price ? many : onePalette(reel, one.palette);
}

/** The whole reel in one palette. */
export function onePalette({ frames }: Pick<SettledReel, 'frames'>, palette: readonly Rgb[]): ReelPalettes {
  return { palettes: [palette], of: frames.map(() => 0) };
}

/** Frames where another palette may begin: every scene, and what changes after it. */
function partStarts(reel: SettledReel): number[] {
  const starts = new Set<number>();
  reel.durations.forEach((durations, f) => {
    let begins = 0;
    for (let p = 0; p < durations.length; p++) if (durations[p] > 0) begins++;
    if (f > 0 && begins < SCENE_SHARE * durations.length) return;
    starts.add(f);
    if (f + 1 < reel.frames.length) starts.add(f + 1);
  });
  return [...starts].sort((a, b) => a - b);
}
