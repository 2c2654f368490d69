import type { Recipe } from '@muted-pond/core/recipe';
import { useStoreWithEqualityFn } from 'zustand/traditional';
import { type PieceState, shownRecipe } from '../store/piece-store.js';
import { useWorkspace } from './workspace-context.js';

/**
 * The recipe as it is shown; the same object until what is made of it changes.
 * @param keyOf the key of what is made of a recipe, as core names it.
 */
export const useRecipeBy = (keyOf: (recipe: Recipe) => string): Recipe => useRecipe(shownRecipe, keyOf);

/** As `useRecipeBy`, without what the hand is doing right now: for what takes long. */
export const useKeptRecipeBy = (keyOf: (recipe: Recipe) => string): Recipe =>
  useRecipe(({ recipe }) => recipe, keyOf);

function useRecipe(from: (state: PieceState) => Recipe, keyOf: (recipe: Recipe) => string): Recipe {
  const { store } = useWorkspace();
  return useStoreWithEqualityFn(store, from, (a, b) => keyOf(a) === keyOf(b));
}
