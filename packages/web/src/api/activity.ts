import type { ActivitySeries } from '@muted-pond/core/motion';
import { useQuery } from '@tanstack/react-query';
import { keys } from './queries.js';

/** Numbers a frame, as the server sends them. */
const FIGURES = 4;

/** While the server still reads, ms. */
export const ASK_AGAIN_MS = 2000;

/** What happens in the footage from frame to frame, as far as it is known; grows while the server reads. */
export const useActivity = (footage: string | null, frames: number) =>
  useQuery({
    queryKey: keys.activity(footage ?? ''),
    enabled: footage !== null && frames > 1,
    staleTime: Number.POSITIVE_INFINITY,
    // News that comes while the first answer is on its way is not followed, so the rest is asked for.
    refetchInterval: ({ state }) => ((state.data?.moves.length ?? 0) < frames ? ASK_AGAIN_MS : false),
    queryFn: async () => {
      const response = await fetch(`/api/footage/${footage}/activity`);
      if (!response.ok) throw new Error('What moves in this footage cannot be told now.');
      return readActivity(await response.arrayBuffer());
    },
  });

export function readActivity(bytes: ArrayBuffer): ActivitySeries {
  const figures = new Float32Array(bytes);
  const column = (at: number) =>
    Float32Array.from({ length: figures.length / FIGURES }, (_, i) => figures[i * FIGURES + at]);
  return { moves: column(0), shiftX: column(1), shiftY: column(2), light: column(3) };
}
