/** A colour, sRGB 0–255. */
export type Rgb = readonly [red: number, green: number, blue: number];

/** Shares of red, green and blue in luma (BT.601). */
export const LUMA: Rgb = [0.299, 0.587, 0.114];

/**
 * What B − Y and R − Y count beside luma: seven tenths of BT.601's own scales, since the eye sees steps of
 * light before steps of colour. More raises the likeness of colour at the cost of light, less the other way
 * round: footage gains a little at a half, drawn pages lose there.
 */
export const BLUE_SCALE = 0.564 * 0.7;
export const RED_SCALE = 0.713 * 0.7;

/** Luma, B − Y and R − Y of an sRGB colour, scaled so that distances in them are distances to the eye. */
export type Opponent = readonly [luma: number, blueDifference: number, redDifference: number];

export function toOpponent([red, green, blue]: Rgb): Opponent {
  const luma = LUMA[0] * red + LUMA[1] * green + LUMA[2] * blue;
  return [luma, (blue - luma) * BLUE_SCALE, (red - luma) * RED_SCALE];
}

/** Sorts colours by luma, the darkest first. */
export function darkestFirst(a: Rgb, b: Rgb): number {
  return toOpponent(a)[0] - toOpponent(b)[0];
}

/** Differences of colour below this are none: rounding must not tint a grey, levels. */
export const NO_DIFFERENCE = 0.01;

/** The sRGB colour of luma and scaled differences, in whole levels, brought into range. */
export function fromOpponent([luma, blueDifference, redDifference]: Opponent): Rgb {
  if (Math.abs(blueDifference) < NO_DIFFERENCE && Math.abs(redDifference) < NO_DIFFERENCE) {
    const level = wholeLevel(luma);
    return [level, level, level];
  }
  const red = luma + redDifference / RED_SCALE;
  const blue = luma + blueDifference / BLUE_SCALE;
  const green = (luma - LUMA[0] * red - LUMA[2] * blue) / LUMA[1];
  return [wholeLevel(red), wholeLevel(green), wholeLevel(blue)];
}

function wholeLevel(level: number): number {
  return Math.min(255, Math.max(0, Math.round(level)));
}

/**
 * Squared distance between two sRGB colours: ΔY² + (0.395 Δ(B − Y))² + (0.499 Δ(R − Y))², squared levels. A
 * step of one level of grey is 1. Settle, palette and squeeze all weigh error by it.
 */
export function colourDistance(a: Rgb, b: Rgb): number {
  const red = a[0] - b[0];
  const green = a[1] - b[1];
  const blue = a[2] - b[2];
  const luma = LUMA[0] * red + LUMA[1] * green + LUMA[2] * blue;
  const blueDifference = (blue - luma) * BLUE_SCALE;
  const redDifference = (red - luma) * RED_SCALE;
  return luma * luma + blueDifference * blueDifference + redDifference * redDifference;
}
