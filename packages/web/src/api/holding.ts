import type { HoldingView } from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import { callApi } from './client.js';

/** Starts to measure steady and even light; events report it. */
export const requestHolding = (piece: string, recipe: Recipe) =>
  callApi<HoldingView>('POST', `pieces/${piece}/holding`, { recipe });

export const stopHolding = (piece: string) => callApi<void>('DELETE', `pieces/${piece}/holding`);
