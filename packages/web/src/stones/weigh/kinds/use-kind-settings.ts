import type { FileKindId, KindSettings } from '@muted-pond/core/files';
import { changeWeigh } from '@muted-pond/core/recipe';
import { useStore } from 'zustand';
import { useWorkspace } from '../../../piece/workspace-context.js';

/** The settings of one kind of file, and how they are changed: one undo step each. */
export function useKindSettings<Id extends FileKindId>(
  id: Id,
): [KindSettings[Id], (part: Partial<KindSettings[Id]>) => void] {
  const { store } = useWorkspace();
  const settings = useStore(store, (state) => state.recipe.weigh[id]);
  const set = (part: Partial<KindSettings[Id]>) =>
    store.getState().change((recipe) => ({ ...recipe, weigh: changeWeigh(recipe.weigh, { [id]: part }) }));
  return [settings, set];
}
