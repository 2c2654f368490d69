import { WOVEN_LIMITS } from '@muted-pond/core/loop';

const { min, max } = WOVEN_LIMITS.liveliness;
const SPAN = Math.log(max / min);

/** The slider, 0–100, is logarithmic: each of its steps multiplies alike. */
export function toMovesSlider(liveliness: number): number {
  return Math.round((100 * Math.log(liveliness / min)) / SPAN);
}

export function fromMovesSlider(value: number): number {
  const exact = min * Math.exp((value / 100) * SPAN);
  return Math.max(min, Math.min(max, Number(exact.toPrecision(3))));
}
