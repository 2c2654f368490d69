import type { Span } from '@muted-pond/core/timing';
import { useQuery } from '@tanstack/react-query';
import { askAgainMs } from './activity.js';
import { keys } from './queries.js';

/** Frames in small, from one to another; empty while the server still goes through the footage. */
export const useSignatures = (footage: string | null, { start, end }: Span) =>
  useQuery<Uint8Array>({
    queryKey: [...keys.activity(footage ?? ''), 'signatures', start, end],
    enabled: footage !== null,
    staleTime: Number.POSITIVE_INFINITY,
    refetchInterval: ({ state }) => (state.data?.length ? false : askAgainMs(state.dataUpdateCount)),
    queryFn: async ({ signal }) => {
      const response = await fetch(`/api/footage/${footage}/signatures?from=${start}&to=${end}`, { signal });
      if (!response.ok) throw new Error('Seams in this footage cannot be looked for now.');
      return new Uint8Array(await response.arrayBuffer());
    },
  });
