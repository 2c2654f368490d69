import type { WeaveAdviceView, WeavingView } from '@muted-pond/core/api';
import { REEL_WEAVE } from '@muted-pond/core/loop';
import type { Weaves, WovenPart } from '@muted-pond/core/render';
import { skipToken, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { useStore } from 'zustand';
import { keys } from '../api/queries.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { shownRecipe } from '../store/piece-store.js';

/** What is woven of the piece, or being woven; null where nothing is. */
export function useWeaving(): WeavingView | null {
  const { pieceId } = useWorkspace();
  return useQuery<WeavingView | null>({ queryKey: keys.weaving(pieceId), queryFn: skipToken }).data ?? null;
}

/** The weave of the whole reel, as it was made last. */
export function useReelWeave(): WovenPart | null {
  return useWeaving()?.parts?.[REEL_WEAVE] ?? null;
}

const NONE: Weaves = {};

/** The weave of the reel where its map lies over the picture as it is shown: a box around it would shift it. */
export function useMappedWeave(): WovenPart | null {
  const { store } = useWorkspace();
  const box = useStore(store, (state) => shownRecipe(state).framing.box);
  const part = useReelWeave();
  return box ? null : part;
}

/** The weaves as they were made last; the same object until others are made. */
export function useWeaves(): Weaves {
  const parts = useWeaving()?.parts;
  return useMemo(() => {
    if (!parts) return NONE;
    return Object.fromEntries(Object.entries(parts).map(([name, { weave }]) => [name, weave]));
  }, [parts]);
}

/** Whether the piece can be woven, as it was asked last. */
export function useWeaveAdvice(): WeaveAdviceView | null {
  const { pieceId } = useWorkspace();
  return useQuery<WeaveAdviceView>({ queryKey: keys.weaveAdvice(pieceId), queryFn: skipToken }).data ?? null;
}
