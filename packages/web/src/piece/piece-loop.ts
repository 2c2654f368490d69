import { loopKey } from '@muted-pond/core/derived';
import { UserError } from '@muted-pond/core/errors';
import type { LoopReel } from '@muted-pond/core/loop';
import type { Recipe } from '@muted-pond/core/recipe';
import { layersOf, loopOf } from '@muted-pond/core/render';
import type { MovingLayer } from '@muted-pond/core/still';
import { LRUCache } from 'lru-cache';
import { useMemo } from 'react';
import { useStore } from 'zustand';
import { shownRecipe } from '../store/piece-store.js';
import { type PieceTake, takeNow, useTake } from './piece-take.js';
import { useRecipeBy } from './use-recipe-by.js';
import { useWorkspace, type Workspace } from './workspace-context.js';

/** The loop of a recipe, or why there is none. */
export type PieceLoop =
  | { readonly loop: LoopReel; readonly problem: null }
  | { readonly loop: null; readonly problem: string };

/** The newest loops: many parts of the screen ask for the same ones. */
const newest = new LRUCache<string, PieceLoop>({ max: 8 });

/** The same object for everything that is made of the same. */
export function pieceLoop(recipe: Recipe, take: PieceTake): PieceLoop {
  const key = loopKey(recipe);
  const there = newest.get(key);
  if (there) return there;
  const made = makePieceLoop(recipe, take);
  newest.set(key, made);
  return made;
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
  const take = useTake();
  const recipe = useRecipeBy(loopKey);
  return useMemo(() => pieceLoop(recipe, take), [recipe, take]);
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
