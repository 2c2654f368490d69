import { linearToSrgb, srgbToLinear } from '../pixels/index.js';

/**
 * The sRGB transfer function and the cube root as tables with straight lines between, for folding: some forty
 * thousand colours while a hand moves. Good to 10⁻⁵, a four-hundredth of a level.
 */

/** Entries to each unit of what a table is asked by. */
const STEPS = 4096;
/** Coded values, and square roots of linear ones, up to which tables go; beyond, functions are asked. */
const LONGEST = 3;

/** A function read from a table, which is made when it is first asked. */
function tabled(make: (at: number) => number): (at: number) => number {
  let table: Float64Array | null = null;
  return (at) => {
    table ??= Float64Array.from({ length: LONGEST * STEPS + 2 }, (_, i) => make(i / STEPS));
    const place = at * STEPS;
    const before = Math.floor(place);
    const one = table[before];
    return one + (table[before + 1] - one) * (place - before);
  };
}

const tabledLinear = tabled(srgbToLinear);
const tabledCoded = tabled((root) => linearToSrgb(root * root));
const tabledCubeRoot = tabled((root) => Math.cbrt(root * root));

/** Coded to linear; also for values that an earlier step took out of 0–1. */
export function linearOf(coded: number): number {
  if (coded < 0) return coded / 12.92;
  return coded < LONGEST ? tabledLinear(coded) : srgbToLinear(coded);
}

/** Linear to coded; also for values out of 0–1. */
export function codedOf(linear: number): number {
  if (linear < 0) return linear * 12.92;
  const root = Math.sqrt(linear);
  return root < LONGEST ? tabledCoded(root) : linearToSrgb(linear);
}

/** @param value not below 0. */
export function cubeRootOf(value: number): number {
  const root = Math.sqrt(value);
  return root < LONGEST ? tabledCubeRoot(root) : Math.cbrt(value);
}
