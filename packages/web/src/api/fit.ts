import type { FitView, LimitValues, SavingsView } from '@muted-pond/core/api';
import type { SavingFamily } from '@muted-pond/core/derived';
import type { Recipe } from '@muted-pond/core/recipe';
import { useQuery } from '@tanstack/react-query';
import { callApi } from './client.js';
import { keys } from './queries.js';

/** The last fitting of a piece; null where there was none. */
export const useFit = (piece: string) =>
  useQuery({
    queryKey: keys.fit(piece),
    queryFn: async () => (await callApi<FitView | undefined>('GET', `pieces/${piece}/fit`)) ?? null,
    staleTime: Number.POSITIVE_INFINITY,
  });

export const beginFit = (piece: string, recipe: Recipe, limit: LimitValues) =>
  callApi<FitView>('POST', `pieces/${piece}/fit`, { recipe, limit });

export const stopFit = (piece: string) => callApi<void>('DELETE', `pieces/${piece}/fit`);

/** Starts to try out what would make the file lighter; events report it. */
export const beginSavings = (piece: string, recipe: Recipe, of: SavingFamily) =>
  callApi<SavingsView>('POST', `pieces/${piece}/savings`, { recipe, of });

export const stopSavings = (piece: string, of: SavingFamily) =>
  callApi<void>('DELETE', `pieces/${piece}/savings?of=${of}`);
