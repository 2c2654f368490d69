import type { TrialView } from '@muted-pond/core/api';
import { UserError } from '@muted-pond/core/errors';
import { takeOf } from '@muted-pond/core/recipe';
import { loopOf } from '@muted-pond/core/render';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { useStore } from 'zustand';
import { trialPictureUrl } from '../api/queries.js';
import { filesOf } from '../piece/piece-take.js';
import { useWorkspace } from '../piece/workspace-context.js';

/**
 * A finished file's picture at a moment, of kinds that are taken apart on the server; the one before until it
 * is there.
 * @param atCs from the loop's start, centiseconds.
 */
export function useTrialPicture(trial: TrialView, atCs: number) {
  const { files } = useWorkspace();
  const known = useStore(files, (state) => state.files);
  const ends = useMemo(() => {
    const { recipe } = trial;
    let end = 0;
    return loopOf(recipe, takeOf(recipe, filesOf(recipe, known))).reel.map(({ delayCs }) => {
      end += delayCs;
      return end;
    });
  }, [trial, known]);
  const last = Math.max(0, ends.length - 1);
  const at = ends[last] > 0 ? atCs % ends[last] : 0;
  // Delays in thousandths leave decimals behind.
  const found = ends.findIndex((end) => at < end - 1e-6);
  const place = trial.figures?.frames === 1 ? 0 : found < 0 ? last : found;
  return useQuery({
    queryKey: ['trial-picture', trial.id, place],
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    placeholderData: keepPreviousData,
    queryFn: async () => {
      const response = await fetch(trialPictureUrl(trial.id, place));
      if (!response.ok)
        throw new UserError('file_gone', `The file of trial ${trial.letter} is gone. Make it again.`);
      return createImageBitmap(await response.blob());
    },
  });
}
