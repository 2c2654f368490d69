import { UserError } from '@muted-pond/core/errors';
import type { Recipe, Take } from '@muted-pond/core/recipe';
import { idleVeils } from '@muted-pond/core/render';
import { useMemo } from 'react';
import { useStore } from 'zustand';
import { useTake } from '../piece/piece-take.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { shownRecipe } from '../store/piece-store.js';
import notes from './notes.module.css';

/** Warns of veils that hide nothing in this loop, before a file is made of it. */
export function IdleVeils() {
  const { store } = useWorkspace();
  const take = useTake();
  const recipe = useStore(store, shownRecipe);
  const names = useMemo(() => idleNames(recipe, take), [recipe, take]);
  if (names.length === 0) return null;
  return (
    <p className={notes.warning} role="alert" data-testid="idle-veils">
      {names.map((name) => `“${name}”`).join(', ')} {names.length === 1 ? 'hides' : 'hide'} nothing:{' '}
      {names.length === 1 ? 'it lies' : 'they lie'} on no frame of this loop, or beside what is seen of it.
      Change its frames or its place in Dress, under Veils.
    </p>
  );
}

/** A loop that cannot be made is told of elsewhere. */
function idleNames(recipe: Recipe, take: Pick<Take, 'times' | 'size'>): string[] {
  try {
    return idleVeils(recipe, take).map(({ name }) => name);
  } catch (error) {
    if (error instanceof UserError || error instanceof RangeError) return [];
    throw error;
  }
}
