import type { Span } from '@muted-pond/core/timing';
import { useQuery } from '@tanstack/react-query';
import { askAgainMs } from './activity.js';
import { fetchBytes } from './client.js';
import { keys } from './queries.js';

/** Frames in small, from one to another; empty while the server still goes through the footage. */
export const useSignatures = (footage: string | null, { start, end }: Span) =>
  useQuery<Uint8Array>({
    queryKey: [...keys.activity(footage ?? ''), 'signatures', start, end],
    enabled: footage !== null,
    staleTime: Number.POSITIVE_INFINITY,
    refetchInterval: ({ state }) =>
      state.data?.length ? false : askAgainMs(state.dataUpdateCount + state.errorUpdateCount),
    queryFn: async ({ signal }) =>
      new Uint8Array(await fetchBytes(`footage/${footage}/signatures?from=${start}&to=${end}`, signal)),
  });
