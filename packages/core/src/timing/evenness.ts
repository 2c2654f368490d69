import type { Reel } from './reel.js';
import type { FrameTimes } from './span.js';

/** Time stamps are rounded to milliseconds in some containers. */
const ROUNDING_SECONDS = 0.001;
/** Steps that differ by more than this part are meant to differ. */
const MEANT = 0.1;
/** Bounds of the rates that are offered, frames a second: a GIF shows no more. */
const SLOWEST = 2;
const FASTEST = 50;

/** Whether frames follow each other at steps that differ by more than the rounding of their time stamps. */
export function isVariable({ starts }: FrameTimes): boolean {
  let shortest = Number.POSITIVE_INFINITY;
  let longest = 0;
  for (let i = 1; i < starts.length; i++) {
    const step = starts[i] - starts[i - 1];
    shortest = Math.min(shortest, step);
    longest = Math.max(longest, step);
  }
  return longest > shortest * (1 + MEANT) + ROUNDING_SECONDS;
}

/** Frames a second on average. */
export function meanRate({ starts, duration }: FrameTimes): number {
  return starts.length / duration;
}

/**
 * Rates at which every frame of the reel stays equally long and moves on equally far: the source's own rate
 * and its whole parts, from 2 frames a second on, the slowest first. None where the source itself is
 * uneven.
 * @param speed the span's length divided by the reel's.
 * @param fastest the highest that is of use, frames a second.
 */
export function evenRates(times: FrameTimes, speed = 1, fastest = FASTEST): number[] {
  if (times.starts.length < 2 || isVariable(times)) return [];
  const own = meanRate(times) * speed;
  const rates: number[] = [];
  for (let part = Math.floor(own / SLOWEST + 1e-6); part >= 1; part--) {
    const rate = Math.round((own / part) * 1000) / 1000;
    if (rate <= fastest) rates.push(rate);
  }
  return rates;
}

/** The even rate nearest to a wanted one, by their ratio; the wanted one where there is none. */
export function evenRateNear(times: FrameTimes, wanted: number): number {
  const apart = (rate: number) => Math.abs(Math.log(rate / wanted));
  const [first, ...rest] = evenRates(times);
  if (first === undefined) return wanted;
  return rest.reduce((best, rate) => (apart(rate) < apart(best) ? rate : best), first);
}

/** How evenly the frames of a reel follow each other. */
export interface Evenness {
  /** The shortest and the longest time a frame stays, centiseconds. */
  readonly shortestCs: number;
  readonly longestCs: number;
  /** Whether they differ by no more than whole centiseconds make necessary. */
  readonly isEven: boolean;
}

export function evennessOf(reel: Reel): Evenness {
  const delays = reel.map((pick) => pick.delayCs);
  const [shortestCs, longestCs] = [Math.min(...delays), Math.max(...delays)];
  return { shortestCs, longestCs, isEven: longestCs - shortestCs <= 1 };
}

/**
 * How far the shown frames are off their own times at worst, seconds.
 * @param reel of a span, forwards, without rests.
 */
export function worstDeviation(times: FrameTimes, reel: Reel, speed = 1): number {
  const from = times.starts[reel[0].source];
  let shownAt = 0;
  let worst = 0;
  for (const { source, delayCs } of reel) {
    worst = Math.max(worst, Math.abs((times.starts[source] - from) / speed - shownAt / 100));
    shownAt += delayCs;
  }
  return worst;
}
