import type { ShownTime } from '@muted-pond/core/dress';

/** The lane of each bar, so that none lies over another; and how many lanes that takes. */
export function lanesOf(times: readonly ShownTime[]): {
  readonly lanes: readonly number[];
  readonly count: number;
} {
  const ends: number[] = [];
  const lanes: number[] = new Array(times.length).fill(0);
  const order = times.map((_, i) => i).sort((one, other) => times[one].fromCs - times[other].fromCs);
  for (const i of order) {
    const free = ends.findIndex((end) => end <= times[i].fromCs);
    const lane = free < 0 ? ends.length : free;
    ends[lane] = times[i].toCs;
    lanes[i] = lane;
  }
  return { lanes, count: ends.length };
}
