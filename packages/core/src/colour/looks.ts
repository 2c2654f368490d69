import { type ColourFunction, type Grade, gradeFunction, LUMINANCE, NO_GRADE } from './grade.js';
import { codedOf, linearOf } from './transfer.js';

/** A colour that is mixed in, in per cent of the range: more red, more green, more blue. Lightness stays. */
type Cast = readonly [red: number, green: number, blue: number];

/** A look as data: a mixture of the channels, a grade, and casts of dark and light places. */
export interface Look {
  readonly name: string;
  /** What it does, in a few words. */
  readonly about: string;
  /** Black and white: how much light is taken from red, green and blue; together 1. */
  readonly mix?: readonly [red: number, green: number, blue: number];
  readonly grade?: Partial<Grade>;
  readonly darks?: Cast;
  readonly lights?: Cast;
}

/** Our own. A new one is an entry here. */
export const LOOKS = {
  'wet-slate': {
    name: 'Wet slate',
    about: 'Black and white as the eye weighs it',
    mix: [0.2126, 0.7152, 0.0722],
  },
  'red-bank': {
    name: 'Red bank',
    about: 'Black and white from red: pale skin, dark sky and leaves',
    mix: [0.86, 0.12, 0.02],
    grade: { contrast: 18 },
  },
  'reed-shade': {
    name: 'Reed shade',
    about: 'Black and white from green: full leaves, dark lips',
    mix: [0.04, 0.94, 0.02],
    grade: { contrast: 10 },
  },
  'night-water': {
    name: 'Night water',
    about: 'Black and white from blue: deep, with bright water',
    mix: [0.05, 0.25, 0.7],
    grade: { contrast: 40, black: 5 },
  },
  'rice-paper': {
    name: 'Rice paper',
    about: 'Black and white, soft and pale',
    mix: [0.45, 0.45, 0.1],
    grade: { contrast: -45, black: -9, exposure: 0.25 },
  },
  'tea-stain': {
    name: 'Tea stain',
    about: 'Black and white on brown paper',
    mix: [0.34, 0.56, 0.1],
    grade: { contrast: 8, black: -5 },
    darks: [14, 2, -12],
    lights: [5, 1, -12],
  },
  'ink-bath': {
    name: 'Ink bath',
    about: 'Black and white, blue in the dark',
    mix: [0.25, 0.6, 0.15],
    grade: { contrast: 22 },
    darks: [-8, -1, 14],
    lights: [-1, 0, 3],
  },
  'lamp-oil': {
    name: 'Lamp oil',
    about: 'Warm and deep, as by lamplight',
    grade: { warmth: 55, contrast: 16, saturation: 8, black: 2 },
    darks: [8, 0, -6],
    lights: [3, 1, -8],
  },
  'first-frost': {
    name: 'First frost',
    about: 'Pale and cold',
    grade: { warmth: -42, saturation: -38, exposure: 0.2, black: -4 },
    lights: [-3, 0, 3],
  },
  'dusk-water': {
    name: 'Dusk water',
    about: 'Green-blue darks under warm lights',
    grade: { contrast: 20, saturation: 6 },
    darks: [-12, 2, 5],
    lights: [7, 1, -9],
  },
  'moss-wall': {
    name: 'Moss wall',
    about: 'Quiet colours leaning to green',
    grade: { saturation: -30, tint: -32, contrast: 6, black: -3 },
    darks: [-5, 4, -3],
  },
  'washed-linen': {
    name: 'Washed linen',
    about: 'Faded by many summers',
    grade: { contrast: -40, saturation: -35, black: -10, warmth: 14, exposure: 0.1 },
  },
  'ripe-persimmon': {
    name: 'Ripe persimmon',
    about: 'Full colours, bright and warm',
    grade: { saturation: 45, contrast: 24, warmth: 18, black: 1 },
  },
  'iron-pot': {
    name: 'Iron pot',
    about: 'Nearly without colour, hard light',
    grade: { saturation: -68, contrast: 55, black: 3 },
    darks: [-3, 0, 3],
  },
  'plum-rain': {
    name: 'Plum rain',
    about: 'Violet darks, a rainy afternoon',
    grade: { saturation: -14, tint: 20, warmth: -10, black: -4 },
    darks: [8, -7, 10],
    lights: [2, 0, -1],
  },
  'brass-bell': {
    name: 'Brass bell',
    about: 'Yellow lights, brown darks',
    grade: { saturation: -18, contrast: 14 },
    darks: [9, 1, -8],
    lights: [4, 2, -14],
  },
} as const satisfies Record<string, Look>;

export type LookId = keyof typeof LOOKS;
export const LOOK_IDS = Object.keys(LOOKS) as LookId[];

export function lookOf(id: LookId): Look {
  return LOOKS[id];
}

/** A look as a function of single colours. */
export function lookFunction({ mix, grade, darks, lights }: Look): ColourFunction {
  const graded = gradeFunction({ ...NO_GRADE, ...grade });
  const cast = darks || lights ? castFunction(darks ?? NO_CAST, lights ?? NO_CAST) : null;
  return (colour) => {
    if (mix) {
      const light =
        mix[0] * linearOf(colour[0]) + mix[1] * linearOf(colour[1]) + mix[2] * linearOf(colour[2]);
      colour.fill(codedOf(light));
    }
    graded?.(colour);
    cast?.(colour);
  };
}

const NO_CAST: Cast = [0, 0, 0];

/** Dark places lean to one colour and light ones to another; black stays black, so that casts do not lift it. */
function castFunction(darks: Cast, lights: Cast): ColourFunction {
  const [dark, light] = [darks, lights].map((cast) => {
    const grey = LUMINANCE.reduce((sum, share, c) => sum + share * cast[c], 0);
    return cast.map((channel) => (channel - grey) / 100);
  });
  return (colour) => {
    const luma = LUMINANCE.reduce((sum, share, c) => sum + share * colour[c], 0);
    const inside = Math.max(0, Math.min(1, luma));
    const ofDarks = 4 * inside * (1 - inside) ** 2;
    const ofLights = inside ** 2;
    for (let c = 0; c < 3; c++) colour[c] += dark[c] * ofDarks + light[c] * ofLights;
  };
}
