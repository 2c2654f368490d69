import type { WeavingView } from '@muted-pond/core/api';
import { wishedWeaves } from '@muted-pond/core/render';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { useStore } from 'zustand';
import { keys } from '../api/queries.js';
import { afterWeaving, requestWeaving, stopWeaveAdvice, stopWeaving } from '../api/weaving.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { sentenceOf } from '../ui/sentence.js';

/** How long the hand must rest before it is woven anew, ms. */
const REST_MS = 120;

/** Has woven what the recipe asks for, anew whenever something that it depends on changes. */
export function useWeaveKeeper(): void {
  const { pieceId, store } = useWorkspace();
  const client = useQueryClient();
  const sources = useStore(store, (state) => state.recipe.sources);
  const span = useStore(store, (state) => state.recipe.span);
  const join = useStore(store, (state) => state.recipe.loop.join);
  const still = useStore(store, (state) => state.recipe.still);
  const framing = useStore(store, (state) => state.recipe.framing);
  const veils = useStore(store, (state) => state.recipe.dress.veils);
  // biome-ignore lint/correctness/useExhaustiveDependencies: all of the recipe that weaves depend on
  useEffect(() => {
    const key = keys.weaving(pieceId);
    const { recipe } = store.getState();
    if (wishedWeaves(recipe).length === 0) {
      if (client.getQueryData(key)) {
        client.setQueryData(key, null);
        void stopWeaving(pieceId).catch(() => {});
      }
      return;
    }
    const timer = setTimeout(() => {
      requestWeaving(pieceId, store.getState().recipe).then(
        (view) => client.setQueryData<WeavingView | null>(key, (old) => afterWeaving(old, view)),
        (error: Error) =>
          client.setQueryData<WeavingView | null>(key, (old) => ({
            ...{ piece: pieceId, key: '', state: 'failed', done: 0, parts: old?.parts ?? null },
            problem: sentenceOf(error),
          })),
      );
    }, REST_MS);
    return () => clearTimeout(timer);
  }, [sources, span, join, still, framing, veils, pieceId, store, client]);
  useEffect(
    () => () => {
      // What nobody waits for any more.
      for (const stop of [stopWeaving, stopWeaveAdvice]) void stop(pieceId).catch(() => {});
    },
    [pieceId],
  );
}
