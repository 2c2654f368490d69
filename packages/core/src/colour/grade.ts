import { codedOf, cubeRootOf, linearOf } from './transfer.js';

/** What is set by hand. All zero leaves every colour as it is. */
export interface Grade {
  /** Stops: each doubles or halves the light. */
  readonly exposure: number;
  /** How steep lightness is around the middle, −100 to 100. */
  readonly contrast: number;
  /** Per cent of the range that become black; below zero, black is lifted so far. */
  readonly black: number;
  /** −100 takes all colour away, 100 doubles it. */
  readonly saturation: number;
  /** −100 is blue, 100 amber. */
  readonly warmth: number;
  /** −100 is green, 100 magenta. */
  readonly tint: number;
}

export const NO_GRADE: Grade = {
  exposure: 0,
  contrast: 0,
  black: 0,
  saturation: 0,
  warmth: 0,
  tint: 0,
};

/** A colour on its way: three channels, changed in place. */
export type Colour = Float64Array;

/** Changes a colour, sRGB-coded, 0–1. What it makes may lie outside: it is cut off at the very end. */
export type ColourFunction = (colour: Colour) => void;

/** The lightness that contrast turns around: that of a grey of 18 per cent. */
const MIDDLE_LIGHTNESS = 0.565;
/** Below 1 ÷ MIDDLE_LIGHTNESS, so that lighter colours stay lighter. */
const STEEPEST = 1.6;
/** Stops between the channels at the end of warmth and tint. */
const WARMTH_STOPS = 0.3;
const TINT_STOPS = 0.25;

/** What each channel gives to luminance, in linear light and, nearly, to coded luma (ITU-R BT.709, 3.2). */
export const LUMINANCE = [0.2126, 0.7152, 0.0722] as const;

/**
 * A grade as a function of single colours. Exposure, warmth and tint multiply linear light, as filters and
 * apertures do. Contrast multiplies it by a share of lightness, the cube root of luminance, so that hues stay.
 * Saturation and black work on coded values, where their steps look even; straight lines there, they fold into
 * a table without an error, also where colours leave the gamut.
 * @returns null where it changes nothing.
 */
export function gradeFunction(grade: Grade): ColourFunction | null {
  const light = lightFunction(grade);
  const coded = codedFunction(grade);
  if (!light || !coded) return light ?? coded;
  return (colour) => {
    light(colour);
    coded(colour);
  };
}

function lightFunction(grade: Grade): ColourFunction | null {
  const { exposure, contrast, warmth, tint } = grade;
  if (exposure === 0 && contrast === 0 && warmth === 0 && tint === 0) return null;
  const [red, green, blue] = lightGains(grade);
  const steep = (STEEPEST * contrast) / 100;
  return (colour) => {
    const r = linearOf(colour[0]) * red;
    const g = linearOf(colour[1]) * green;
    const b = linearOf(colour[2]) * blue;
    const share = steep === 0 ? 1 : contrastShare(luminanceOf(r, g, b), steep);
    colour[0] = codedOf(r * share);
    colour[1] = codedOf(g * share);
    colour[2] = codedOf(b * share);
  };
}

/** How much light each channel keeps. White keeps its luminance. */
function lightGains({ exposure, warmth, tint }: Grade): [number, number, number] {
  const warm = (WARMTH_STOPS * warmth) / 100;
  const magenta = (TINT_STOPS * tint) / 100;
  const gains = [warm + magenta / 2, -magenta, magenta / 2 - warm].map((stops) => 2 ** stops);
  const white = luminanceOf(gains[0], gains[1], gains[2]);
  const [red, green, blue] = gains.map((gain) => (gain / white) * 2 ** exposure);
  return [red, green, blue];
}

function luminanceOf(red: number, green: number, blue: number): number {
  return LUMINANCE[0] * red + LUMINANCE[1] * green + LUMINANCE[2] * blue;
}

/**
 * What light is multiplied with: lightness goes through a cubic that leaves black, white and the middle where
 * they are. Beyond white it goes on in a straight line.
 */
function contrastShare(luminance: number, steep: number): number {
  const lightness = cubeRootOf(Math.max(0, luminance));
  if (lightness <= 1) return (1 + steep * (1 - lightness) * (lightness - MIDDLE_LIGHTNESS)) ** 3;
  const slope = 1 - steep * (1 - MIDDLE_LIGHTNESS);
  return ((1 + slope * (lightness - 1)) / lightness) ** 3;
}

function codedFunction({ saturation, black }: Grade): ColourFunction | null {
  if (saturation === 0 && black === 0) return null;
  const chroma = 1 + saturation / 100;
  const at = Math.max(0, black) / 100;
  const lift = Math.max(0, -black) / 100;
  const gain = (1 - lift) / (1 - at);
  return (colour) => {
    const grey = luminanceOf(colour[0], colour[1], colour[2]);
    for (let c = 0; c < 3; c++) colour[c] = lift + (grey + (colour[c] - grey) * chroma - at) * gain;
  };
}
