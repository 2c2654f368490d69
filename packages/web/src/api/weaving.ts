import type { WeaveAdviceView, WeavingView } from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import type { WeaveAdviceAsk } from '@muted-pond/core/render';
import { callApi } from './client.js';

/** Asks for the weaves of a recipe; events tell how far they are. */
export const requestWeaving = (piece: string, recipe: Recipe) =>
  callApi<WeavingView>('POST', `pieces/${piece}/weaving`, { recipe });

export const stopWeaving = (piece: string) => callApi<void>('DELETE', `pieces/${piece}/weaving`);

/** Asks whether a recipe can be woven. */
export const requestWeaveAdvice = (piece: string, ask: WeaveAdviceAsk) =>
  callApi<WeaveAdviceView>('POST', `pieces/${piece}/weave-advice`, ask);

export const stopWeaveAdvice = (piece: string) => callApi<void>('DELETE', `pieces/${piece}/weave-advice`);

/** The last weaves stand until the next are there. */
export function withLastParts(old: WeavingView | null | undefined, next: WeavingView): WeavingView {
  return { ...next, parts: next.parts ?? old?.parts ?? null };
}
