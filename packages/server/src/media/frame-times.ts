import type { FrameTimes } from '@muted-pond/core/timing';
import type { VideoFacts } from './probe.js';

/** The file's own time stamps in seconds from the first frame. */
export function frameTimes(facts: Pick<VideoFacts, 'ticks' | 'timeBase' | 'durationTicks'>): FrameTimes {
  const [numerator, denominator] = facts.timeBase;
  const seconds = (ticks: number) => (ticks * numerator) / denominator;
  return {
    starts: facts.ticks.map((tick) => seconds(tick - facts.ticks[0])),
    duration: seconds(facts.durationTicks),
  };
}
