import type { FollowView, FollowWay } from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import { callApi } from './client.js';

/** Starts to follow what a veil hides from a frame on; events report it. */
export const beginFollow = (piece: string, recipe: Recipe, veil: string, frame: number, way: FollowWay) =>
  callApi<FollowView>('POST', `pieces/${piece}/follow`, { recipe, veil, frame, way });

export const stopFollow = (piece: string) => callApi<void>('DELETE', `pieces/${piece}/follow`);
