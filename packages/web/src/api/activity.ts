import type { ActivitySeries } from '@muted-pond/core/motion';
import { useQuery } from '@tanstack/react-query';
import { fetchBytes } from './client.js';
import { keys } from './queries.js';
import { type RetryPolicy, retryAfter } from './retry.js';

/** Numbers a frame, as the server sends them. */
const FIGURES = 4;

/** Polling while the server still reads: at growing intervals, and no more after some hours. */
const ASKING: RetryPolicy = { firstMs: 2000, longestMs: 60_000, most: 400 };

/** The polling interval while the server still works on it. @param answers so far. */
export function askAgainMs(answers: number): number | false {
  // Events of progress trigger a request as well, so a longer interval delays nothing.
  return retryAfter(Math.max(1, answers), ASKING) ?? false;
}

/** What happens in the footage from frame to frame, as far as it is known; grows while the server reads. */
export const useActivity = (footage: string | null, frames: number) =>
  useQuery<ActivitySeries>({
    queryKey: keys.activity(footage ?? ''),
    enabled: footage !== null && frames > 1,
    staleTime: Number.POSITIVE_INFINITY,
    // News that comes while the first answer is on its way is not followed, so the rest is asked for.
    refetchInterval: ({ state }) =>
      (state.data?.moves.length ?? 0) < frames
        ? askAgainMs(state.dataUpdateCount + state.errorUpdateCount)
        : false,
    queryFn: async () => readActivity(await fetchBytes(`footage/${footage}/activity`)),
  });

export function readActivity(bytes: ArrayBuffer): ActivitySeries {
  const figures = new Float32Array(bytes);
  const column = (at: number) =>
    Float32Array.from({ length: figures.length / FIGURES }, (_, i) => figures[i * FIGURES + at]);
  return { moves: column(0), shiftX: column(1), shiftY: column(2), light: column(3) };
}
