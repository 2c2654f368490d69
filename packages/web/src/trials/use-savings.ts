import type { SavingsView } from '@muted-pond/core/api';
import { type SavingFamily, savingsKey } from '@muted-pond/core/derived';
import type { Recipe } from '@muted-pond/core/recipe';
import { skipToken, useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import { beginSavings, stopSavings } from '../api/fit.js';
import { keepNewest } from '../api/newest.js';
import { keys } from '../api/queries.js';
import { useKeptRecipeBy } from '../piece/use-recipe-by.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { tellProblem } from '../ui/notify.js';

export interface Savings {
  /** Null where nothing was tried, or for something else than the piece as it is now. */
  readonly view: SavingsView | null;
  begin(recipe: Recipe): void;
  stop(): void;
}

/** What changes would make of the file's weight, each measured by making the file with it. */
export function useSavings(of: SavingFamily): Savings {
  const { pieceId } = useWorkspace();
  const client = useQueryClient();
  const queryKey = keys.savings(pieceId, of);
  const recipe = useKeptRecipeBy((one) => savingsKey(one, of));
  const told = useQuery<SavingsView | null>({ queryKey, queryFn: skipToken }).data ?? null;
  const view = useMemo(
    () => (told?.state === 'working' || (told && isOf(told, recipe)) ? told : null),
    [told, recipe],
  );
  return {
    view,
    begin: (recipe) =>
      void beginSavings(pieceId, recipe, of).then((next) => keepNewest(client, queryKey, next), tellProblem),
    stop: () => void stopSavings(pieceId, of).then(() => client.setQueryData(queryKey, null), tellProblem),
  };
}

/** Whether savings are of a recipe, or the recipe is one of them that was taken. */
function isOf({ key, of, savings }: SavingsView, recipe: Recipe): boolean {
  const now = savingsKey(recipe, of);
  return key === now || savings.some((saving) => savingsKey(saving.recipe, of) === now);
}
