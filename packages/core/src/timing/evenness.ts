/** Frame rates whose delay is a whole number of centiseconds and that are easy to say, frames a second. */
export const EVEN_RATES: readonly number[] = [2, 4, 5, 6.25, 10, 12.5, 20, 25, 50];

/** How evenly the frames of a reel follow each other. */
export interface Evenness {
  /** The two delays that stand for one frame rate, centiseconds; equal where it is even. */
  readonly shorterCs: number;
  readonly longerCs: number;
  /** The nearest even rates below and above; one of them where there is no other. */
  readonly nearest: readonly number[];
}

/**
 * What a frame rate becomes in whole centiseconds.
 * @param rate frames a second.
 */
export function evennessOf(rate: number): Evenness {
  const exact = 100 / rate;
  const isWhole = Math.abs(exact - Math.round(exact)) < 1e-6;
  const below = EVEN_RATES.filter((even) => even < rate).at(-1);
  const above = EVEN_RATES.find((even) => even > rate);
  return {
    shorterCs: isWhole ? Math.round(exact) : Math.floor(exact),
    longerCs: isWhole ? Math.round(exact) : Math.ceil(exact),
    nearest: isWhole ? [] : [below, above].filter((even) => even !== undefined),
  };
}
