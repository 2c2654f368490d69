import type { FrameTimes } from '@muted-pond/core/timing';
import type { FrameClock } from '../decoder/index.js';

/** The file's own time stamps in seconds from the first frame. */
export function frameTimes({ ticks, timeBase, durationTicks }: FrameClock): FrameTimes {
  const [numerator, denominator] = timeBase;
  const seconds = (count: number) => (count * numerator) / denominator;
  return { starts: ticks.map((tick) => seconds(tick - ticks[0])), duration: seconds(durationTicks) };
}
