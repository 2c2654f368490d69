import { useHotkeys } from '@mantine/hooks';
import type { TrialView } from '@muted-pond/core/api';
import { fileKey } from '@muted-pond/core/derived';
import type { Recipe } from '@muted-pond/core/recipe';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useStore } from 'zustand';
import { placeTrial } from '../api/events.js';
import { deleteTrial, keys, requestTrial, useTrials } from '../api/queries.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { sentenceOf } from '../ui/sentence.js';

/** Debounce before a trial is made, ms. */
const REST_MS = 450;

export interface TrialsView {
  readonly trials: readonly TrialView[];
  /** The trial of exactly these settings, finished or not. */
  readonly current: TrialView | null;
  /** The finished file to show: the current one, or until then the newest. */
  readonly shown: TrialView | null;
  /** The file of exactly these settings while it is only measured any more; null before and after. */
  readonly unmeasured: TrialView | null;
}

const NO_TRIALS: readonly TrialView[] = [];

export function useTrialsView(): TrialsView {
  const { pieceId, store } = useWorkspace();
  const recipe = useStore(store, (state) => state.recipe);
  const trials = useTrials(pieceId).data ?? NO_TRIALS;
  const key = useMemo(() => fileKey(recipe), [recipe]);
  const current = trials.find((trial) => trial.key === key) ?? null;
  const lastShown = useRef<string | null>(null);
  const done = trials.filter((trial) => trial.state === 'done');
  const shown =
    current?.state === 'done'
      ? current
      : (done.find((trial) => trial.id === lastShown.current) ?? done.at(-1) ?? null);
  lastShown.current = shown?.id ?? null;
  const file = current?.progress?.file;
  // A list of pictures is shown one by one, and only once it is kept.
  const unmeasured = file && current?.shownAs !== 'list' ? current : null;
  return { trials, current, shown, unmeasured };
}

export interface TrialMaker {
  /** Makes the file of the present settings now. */
  readonly makeNow: () => void;
  /** Stops the trial in the making; nothing is made until something changes. */
  readonly cancel: (id: string) => void;
  /** Why the last request was refused. */
  readonly problem: string | null;
}

/** Makes a trial after each change, debounced. */
export function useTrialMaker({ trials, current }: TrialsView, ready: boolean): TrialMaker {
  const { pieceId, store, autosave } = useWorkspace();
  const client = useQueryClient();
  const recipe = useStore(store, (state) => state.recipe);
  const asked = useRef<Recipe | null>(null);
  const [problem, setProblem] = useState<string | null>(null);

  const make = useCallback(
    async (wanted: Recipe) => {
      asked.current = wanted;
      setProblem(null);
      try {
        void autosave.flush();
        placeTrial(client, await requestTrial(pieceId, wanted));
      } catch (error) {
        setProblem(sentenceOf(error));
      }
    },
    [autosave, client, pieceId],
  );

  useEffect(() => {
    if (!ready || current || asked.current === recipe) return;
    const timer = setTimeout(() => void make(recipe), REST_MS);
    return () => clearTimeout(timer);
  }, [recipe, current, ready, make]);

  // What is being made for settings that are no longer the present ones is of no use to anyone.
  const superseded = trials.find((trial) => trial.progress !== null && trial.id !== current?.id)?.id ?? null;
  useEffect(() => {
    if (superseded) void deleteTrial(superseded).catch(() => {});
  }, [superseded]);

  const makeNow = () => void make(store.getState().recipe);
  useHotkeys([['T', makeNow]]);

  return {
    makeNow,
    cancel: (id) => {
      asked.current = store.getState().recipe;
      void deleteTrial(id).finally(() => client.invalidateQueries({ queryKey: keys.trials(pieceId) }));
    },
    problem,
  };
}
