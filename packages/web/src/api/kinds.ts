import type { KindsView } from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import { useQuery } from '@tanstack/react-query';
import { callApi } from './client.js';
import { keys } from './queries.js';
import { withLayers } from './sent-layers.js';

/** The last round of all kinds of a piece; null where there was none. */
export const useAllKinds = (piece: string) =>
  useQuery({
    queryKey: keys.kinds(piece),
    queryFn: async () => (await callApi<KindsView | undefined>('GET', `pieces/${piece}/kinds`)) ?? null,
    staleTime: Number.POSITIVE_INFINITY,
  });

export const beginAllKinds = (piece: string, recipe: Recipe) =>
  withLayers(() => callApi<KindsView>('POST', `pieces/${piece}/kinds`, { recipe }));

export const stopAllKinds = (piece: string) => callApi<void>('DELETE', `pieces/${piece}/kinds`);
