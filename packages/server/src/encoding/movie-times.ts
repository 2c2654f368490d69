import type { Reel } from '@muted-pond/core/timing';

/** When the frames of a movie are shown. */
export interface MovieTimes {
  /** Of each frame of one round, ms. */
  readonly delaysMs: readonly number[];
  /** Of one round. */
  readonly roundMs: number;
  /** All frames stay equally long, to a thousandth of a second. */
  readonly isEven: boolean;
  /** Of the whole movie. */
  readonly seconds: number;
}

/** @param rounds how often the reel stands in the movie. */
export function movieTimes(reel: Reel, rounds: number): MovieTimes {
  const delaysMs = reel.map(({ delayCs }) => Math.round(delayCs * 10));
  const roundMs = delaysMs.reduce((sum, delay) => sum + delay, 0);
  let begins = 0;
  const isEven = delaysMs.every((delay, frame) => {
    const off = Math.abs(begins - (frame * roundMs) / delaysMs.length);
    begins += delay;
    return off <= 1;
  });
  return { delaysMs, roundMs, isEven, seconds: (roundMs * rounds) / 1000 };
}

/** How long each frame is shown, seconds: of even movies all alike, with nothing rounded. */
export function frameSeconds({ delaysMs, roundMs, isEven }: MovieTimes, rounds = 1): number[] {
  const even = roundMs / delaysMs.length;
  const once = delaysMs.map((ms) => (isEven ? even : ms) / 1000);
  return Array.from({ length: rounds }, () => once).flat();
}

/** How the frames are said to come. */
export function timingInput({ delaysMs, roundMs, isEven }: MovieTimes): string[] {
  return isEven ? ['-framerate', `${delaysMs.length * 1000}/${roundMs}`] : ['-framerate', '1000'];
}

/**
 * Gives each frame the time at which it begins. The place of a frame in its round is told by its number, and
 * each change of delay bends the line of times.
 */
export function timingFilters({ delaysMs, roundMs, isEven }: MovieTimes, rounds: number): string[] {
  if (isEven) return [];
  const count = delaysMs.length;
  const place = rounds > 1 ? `mod(N,${count})` : 'N';
  const bends = delaysMs.flatMap((delay, frame) => {
    const change = frame === 0 ? 0 : delay - delaysMs[frame - 1];
    return change === 0 ? [] : [`${change}*max(ld(0)-${frame},0)`];
  });
  const line = [`${delaysMs[0]}*ld(0)`, ...bends].join('+').replaceAll('+-', '-');
  const before = rounds > 1 ? `+${roundMs}*floor(N/${count})` : '';
  return ['settb=1/1000', `setpts='st(0,${place})*0+${line}${before}'`];
}
