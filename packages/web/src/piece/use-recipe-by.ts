import type { Recipe } from '@muted-pond/core/recipe';
import { useStoreWithEqualityFn } from 'zustand/traditional';
import { shownRecipe } from '../store/piece-store.js';
import { useWorkspace } from './workspace-context.js';

/**
 * The recipe as it is shown; the same object until what is made of it changes.
 * @param keyOf the key of what is made of a recipe, as core names it.
 */
export function useRecipeBy(keyOf: (recipe: Recipe) => string): Recipe {
  const { store } = useWorkspace();
  return useStoreWithEqualityFn(store, shownRecipe, (a, b) => keyOf(a) === keyOf(b));
}
