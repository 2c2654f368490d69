import type { HoldingView } from '@muted-pond/core/api';
import { holdingKey, stagePlanKey } from '@muted-pond/core/derived';
import { skipToken, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo } from 'react';
import { useStore } from 'zustand';
import { requestHolding, stopHolding } from '../../api/holding.js';
import { keepNewest } from '../../api/newest.js';
import { keys } from '../../api/queries.js';
import { useTake } from '../../piece/piece-take.js';
import { useKeptRecipeBy } from '../../piece/use-recipe-by.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';
import { sentenceOf } from '../../ui/sentence.js';

/** Debounce before frames are measured, ms. */
const REST_MS = 500;

/**
 * What was measured of the settings as they were asked for last; null where neither steady nor even light is
 * on.
 */
export function useHolding(): HoldingView | null {
  const { pieceId, store } = useWorkspace();
  const { steady, evenLight, plate } = useStore(store, (state) => shownRecipe(state).still);
  const view = useQuery<HoldingView>({ queryKey: keys.holding(pieceId), queryFn: skipToken }).data ?? null;
  return plate !== null && (steady || evenLight) ? view : null;
}

/** Requests a measurement of the frames after each change of what is held. */
export function useHoldingKeeper(): void {
  const { pieceId, store } = useWorkspace();
  const take = useTake();
  const client = useQueryClient();
  const recipe = useKeptRecipeBy(stagePlanKey);
  const { still } = recipe;
  const isOn = take.kind !== 'stills' && still.plate !== null && (still.steady || still.evenLight);
  const key = useMemo(() => (isOn ? holdingKey(recipe, take) : null), [isOn, recipe, take]);
  useEffect(() => {
    if (key === null) return;
    const timer = setTimeout(() => {
      const queryKey = keys.holding(pieceId);
      requestHolding(pieceId, store.getState().recipe).then(
        (view) => keepNewest(client, queryKey, view),
        (error: Error) =>
          client.setQueryData<HoldingView>(queryKey, (old) => ({
            ...{ piece: pieceId, key, state: 'failed', done: 0, figures: null },
            ...{ problem: sentenceOf(error), revision: old?.revision ?? 0 },
          })),
      );
    }, REST_MS);
    return () => clearTimeout(timer);
  }, [key, pieceId, store, client]);
  useEffect(() => () => void stopHolding(pieceId).catch(() => {}), [pieceId]);
}
