import type { WeavingView } from '@muted-pond/core/api';
import { stagePlanKey, weavingKey } from '@muted-pond/core/derived';
import { wishedWeaves } from '@muted-pond/core/render';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo } from 'react';
import { keepNewest } from '../api/newest.js';
import { keys } from '../api/queries.js';
import { requestWeaving, stopWeaveAdvice, stopWeaving, withLastParts } from '../api/weaving.js';
import { useTake } from '../piece/piece-take.js';
import { useKeptRecipeBy } from '../piece/use-recipe-by.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { sentenceOf } from '../ui/sentence.js';

/** Debounce before a new weave is requested, ms. */
const REST_MS = 120;

/** Requests the weaves of the recipe, again whenever their key changes. */
export function useWeaveKeeper(): void {
  const { pieceId, store } = useWorkspace();
  const client = useQueryClient();
  const take = useTake();
  const recipe = useKeptRecipeBy(stagePlanKey);
  const key = useMemo(
    () => (wishedWeaves(recipe).length > 0 ? weavingKey(recipe, take) : null),
    [recipe, take],
  );
  useEffect(() => {
    const queryKey = keys.weaving(pieceId);
    if (key === null) {
      if (client.getQueryData(queryKey)) {
        client.setQueryData(queryKey, null);
        void stopWeaving(pieceId).catch(() => {});
      }
      return;
    }
    const timer = setTimeout(() => {
      requestWeaving(pieceId, store.getState().recipe).then(
        (view) => keepNewest(client, queryKey, view, withLastParts),
        (error: Error) =>
          client.setQueryData<WeavingView | null>(queryKey, (old) => ({
            ...{ piece: pieceId, key, state: 'failed', done: 0, parts: old?.parts ?? null },
            ...{ problem: sentenceOf(error), revision: old?.revision ?? 0 },
          })),
      );
    }, REST_MS);
    return () => clearTimeout(timer);
  }, [key, pieceId, store, client]);
  useEffect(
    () => () => {
      // Jobs of a piece that was closed.
      for (const stop of [stopWeaving, stopWeaveAdvice]) void stop(pieceId).catch(() => {});
    },
    [pieceId],
  );
}
