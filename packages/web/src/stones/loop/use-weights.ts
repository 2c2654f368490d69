import type { TrialView } from '@muted-pond/core/api';
import { fileKey } from '@muted-pond/core/derived';
import type { Recipe } from '@muted-pond/core/recipe';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { placeTrial } from '../../api/events.js';
import { requestTrial, useTrials } from '../../api/queries.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { tellProblem } from '../../ui/notify.js';

export interface Weights {
  /** Bytes of each recipe's finished file; null where none was made. */
  readonly bytes: readonly (number | null)[];
  readonly weighing: boolean;
  /** Makes the files that are not there yet, one after the other. */
  weigh(): void;
}

/** What the files of some recipes weigh: measured on trials, never guessed. */
export function useWeights(recipes: readonly Recipe[]): Weights {
  const { pieceId } = useWorkspace();
  const client = useQueryClient();
  const trials = useTrials(pieceId).data;
  const [wanted, setWanted] = useState<readonly Recipe[]>([]);
  const next = wanted.find((recipe) => bytesOf(trials, recipe) === null);
  const isBusy = trials?.some((trial) => trial.state === 'waiting' || trial.state === 'working') ?? true;

  useEffect(() => {
    if (!next || isBusy) return;
    const key = fileKey(next);
    const failed = trials?.find((trial) => trial.state === 'failed' && trial.key === key);
    if (failed) {
      tellProblem(failed.problem);
      setWanted([]);
      return;
    }
    requestTrial(pieceId, next).then(
      (trial) => placeTrial(client, trial),
      (error) => {
        tellProblem(error);
        setWanted([]);
      },
    );
  }, [next, isBusy, trials, pieceId, client]);

  return {
    bytes: recipes.map((recipe) => bytesOf(trials, recipe)),
    weighing: next !== undefined,
    weigh: () => setWanted(recipes),
  };
}

function bytesOf(trials: readonly TrialView[] | undefined, recipe: Recipe): number | null {
  const key = fileKey(recipe);
  const trial = trials?.find((one) => one.state === 'done' && one.key === key);
  return trial?.figures?.bytes ?? null;
}
