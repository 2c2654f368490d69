import type { DressSettings } from '@muted-pond/core/dress';
import type { Recipe } from '@muted-pond/core/recipe';
import { useMemo } from 'react';
import { useStore } from 'zustand';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';

/** The ways to change a dress. */
export interface DressEdits {
  /** One undo step. */
  change(edit: (recipe: Recipe) => Recipe): void;
  /** While the pointer is down. */
  preview(edit: (recipe: Recipe) => Recipe): void;
  /** The pointer is up: the last preview becomes one undo step. */
  keep(edit: (recipe: Recipe) => Recipe): void;
}

/** Nothing is drawn again for it. */
export function useDressEdits(): DressEdits {
  const { store } = useWorkspace();
  return useMemo(
    () => ({
      change: (edit) => store.getState().change(edit),
      preview: (edit) => store.getState().preview(edit),
      keep(edit) {
        store.getState().preview(edit);
        store.getState().keepDraft();
      },
    }),
    [store],
  );
}

/** What is picked of the recipe as it is shown; drawn again when that changes. */
export function useShown<Picked>(pick: (recipe: Recipe) => Picked): Picked {
  const { store } = useWorkspace();
  return useStore(store, (state) => pick(shownRecipe(state)));
}

/** One part of the dress as it is shown: while another part is under the hand, nothing is drawn again. */
export function useDressPart<Name extends keyof DressSettings>(name: Name): DressSettings[Name] {
  return useShown(({ dress }) => dress[name]);
}
