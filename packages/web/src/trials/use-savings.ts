import type { SavingFamily, SavingsView } from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import { skipToken, useQuery, useQueryClient } from '@tanstack/react-query';
import { beginSavings, stopSavings } from '../api/fit.js';
import { keys } from '../api/queries.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { tellProblem } from '../ui/notify.js';

export interface Savings {
  /** Null where nothing was tried. */
  readonly view: SavingsView | null;
  begin(recipe: Recipe): void;
  stop(): void;
}

/** What changes would make of the file's weight, each measured by making the file with it. */
export function useSavings(of: SavingFamily): Savings {
  const { pieceId } = useWorkspace();
  const client = useQueryClient();
  const queryKey = keys.savings(pieceId, of);
  const view = useQuery<SavingsView | null>({ queryKey, queryFn: skipToken }).data ?? null;
  const set = (next: SavingsView | null) => client.setQueryData(queryKey, next);
  return {
    view,
    begin: (recipe) => void beginSavings(pieceId, recipe, of).then(set, tellProblem),
    stop: () => void stopSavings(pieceId, of).then(() => set(null), tellProblem),
  };
}
