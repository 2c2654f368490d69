import { SHORTEST_HONEST_DELAY_CS } from './centiseconds.js';

/** How finely a kind of file counts the time for which frames are shown. */
export interface DelayClock {
  /** 1 counts hundredths of a second, 10 thousandths. */
  readonly ticksPerCs: 1 | 10;
  /** The shortest delay that viewers play as written, in ticks. */
  readonly leastTicks: number;
}

/** GIF (GIF89a, 23.c.v): hundredths of a second, of which viewers draw single ones out. */
export const CENTISECONDS: DelayClock = { ticksPerCs: 1, leastTicks: SHORTEST_HONEST_DELAY_CS };

/** Animated images that count milliseconds: browsers draw out delays of 10 ms and less. */
export const IMAGE_MILLISECONDS: DelayClock = { ticksPerCs: 10, leastTicks: 11 };

/** Movies: as fast as footage comes. */
export const MOVIE_MILLISECONDS: DelayClock = { ticksPerCs: 10, leastTicks: 4 };

/** The most frames a second that a clock can show. */
export function fastestRate({ ticksPerCs, leastTicks }: DelayClock): number {
  return (100 * ticksPerCs) / leastTicks;
}
