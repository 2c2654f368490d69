/** Palette entries where fewer are tried. */
export const FEWER_COLORS = 128;

/** Half as much again, as much as `least` at least, and never more than `most`. */
export function more(now: number, least: number, most: number): number {
  return Math.min(most, Math.max(least, now * 1.5));
}
