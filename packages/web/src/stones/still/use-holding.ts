import type { HoldingView } from '@muted-pond/core/api';
import { skipToken, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { useStore } from 'zustand';
import { requestHolding, stopHolding } from '../../api/holding.js';
import { keys } from '../../api/queries.js';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';
import { sentenceOf } from '../../ui/sentence.js';

/** How long the hand must rest before frames are measured, ms. */
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

/** Has the frames measured anew whenever what is held changes and the hand rests. */
export function useHoldingKeeper(): void {
  const { pieceId, store } = useWorkspace();
  const { kind } = useTake();
  const client = useQueryClient();
  const still = useStore(store, (state) => shownRecipe(state).still);
  const span = useStore(store, (state) => shownRecipe(state).span);
  const loop = useStore(store, (state) => shownRecipe(state).loop);
  const rate = useStore(store, (state) => shownRecipe(state).weigh.frameRate);
  const isOn = kind !== 'stills' && still.plate !== null && (still.steady || still.evenLight);
  // biome-ignore lint/correctness/useExhaustiveDependencies: all of the recipe that is measured
  useEffect(() => {
    if (!isOn) return;
    const timer = setTimeout(() => {
      const key = keys.holding(pieceId);
      requestHolding(pieceId, shownRecipe(store.getState())).then(
        (view) => client.setQueryData(key, view),
        (error: Error) =>
          client.setQueryData<HoldingView>(key, {
            ...{ piece: pieceId, key: '', state: 'failed', done: 0, figures: null },
            problem: sentenceOf(error),
          }),
      );
    }, REST_MS);
    return () => clearTimeout(timer);
  }, [isOn, still, span, loop, rate, pieceId, store, client]);
  useEffect(() => () => void stopHolding(pieceId).catch(() => {}), [pieceId]);
}
