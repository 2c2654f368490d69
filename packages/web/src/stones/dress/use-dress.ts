import type { DressSettings } from '@muted-pond/core/dress';
import type { Recipe } from '@muted-pond/core/recipe';
import { useStore } from 'zustand';
import { useWorkspace } from '../../piece/workspace-context.js';
import { shownRecipe } from '../../store/piece-store.js';

/** The dress as it is shown, and the ways to change it. */
export interface DressEdits {
  readonly dress: DressSettings;
  /** One undo step. */
  change(edit: (recipe: Recipe) => Recipe): void;
  /** While the hand is down. */
  preview(edit: (recipe: Recipe) => Recipe): void;
  /** The hand is up: what it did last becomes one undo step. */
  keep(edit: (recipe: Recipe) => Recipe): void;
}

export function useDress(): DressEdits {
  const { store } = useWorkspace();
  const dress = useStore(store, (state) => shownRecipe(state).dress);
  return {
    dress,
    change: (edit) => store.getState().change(edit),
    preview: (edit) => store.getState().preview(edit),
    keep(edit) {
      store.getState().preview(edit);
      store.getState().keepDraft();
    },
  };
}
