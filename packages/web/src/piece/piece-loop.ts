import { loopKey } from '@muted-pond/core/derived';
import { UserError } from '@muted-pond/core/errors';
import type { LoopReel } from '@muted-pond/core/loop';
import type { Recipe } from '@muted-pond/core/recipe';
import { layersOf, loopOf } from '@muted-pond/core/render';
import type { MovingLayer } from '@muted-pond/core/still';
import { useMemo } from 'react';
import { useStore } from 'zustand';
import { shownRecipe } from '../store/piece-store.js';
import { type PieceTake, takeNow, useTake } from './piece-take.js';
import { useWorkspace, type Workspace } from './workspace-context.js';

/** The loop of a recipe, or why there is none. */
export type PieceLoop =
  | { readonly loop: LoopReel; readonly problem: null }
  | { readonly loop: null; readonly problem: string };

/** The newest loop made: many parts of the screen ask for the same one. */
let newest: { readonly key: string; readonly times: PieceTake['times']; readonly made: PieceLoop } | null =
  null;

/** The same object until something that the loop is made of changes. */
export function pieceLoop(recipe: Recipe, take: PieceTake): PieceLoop {
  const key = loopKey(recipe);
  const { times } = take;
  if (newest?.key !== key || newest.times !== times)
    newest = { key, times, made: makePieceLoop(recipe, take) };
  return newest.made;
}

function makePieceLoop(recipe: Recipe, take: PieceTake): PieceLoop {
  try {
    return { loop: loopOf(recipe, take), problem: null };
  } catch (error) {
    if (error instanceof UserError) return { loop: null, problem: error.message };
    throw error;
  }
}

/** The loop as it is now, for what the hand does. */
export function loopNow(workspace: Pick<Workspace, 'store' | 'files'>): LoopReel | null {
  return pieceLoop(shownRecipe(workspace.store.getState()), takeNow(workspace)).loop;
}

/** The loop as it is shown; the same object until something it is made of changes. */
export function usePieceLoop(): PieceLoop {
  const { store } = useWorkspace();
  const take = useTake();
  const recipe = useStore(store, shownRecipe);
  return pieceLoop(recipe, take);
}

const NO_LAYERS: readonly MovingLayer[] = [];

/** What moves over the plate, layer by layer; none where nothing is held or the reel cannot be made. */
export function useMovingLayers(): readonly MovingLayer[] {
  const { store } = useWorkspace();
  const take = useTake();
  const { loop } = usePieceLoop();
  const still = useStore(store, (state) => shownRecipe(state).still);
  return useMemo(() => {
    if (!loop) return NO_LAYERS;
    try {
      return layersOf({ ...shownRecipe(store.getState()), still }, loop, take);
    } catch (error) {
      // A ripple’s own loop lies beyond the footage; Weigh says so, and Still shows what there is.
      if (error instanceof UserError) return NO_LAYERS;
      throw error;
    }
  }, [still, loop, take, store]);
}
