import type { WeaveAdvice } from '@muted-pond/core/api';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef } from 'react';
import { keepNewest } from '../api/newest.js';
import { keys } from '../api/queries.js';
import { requestWeaveAdvice } from '../api/weaving.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { tellProblem } from '../ui/notify.js';
import { useWeaveAdvice } from './use-weaving.js';

/** Asks whether, and over which length, the piece can be woven. */
export function useWeaveAdviser() {
  const { pieceId, store, seams } = useWorkspace();
  const client = useQueryClient();
  const view = useWeaveAdvice();
  const waiting = useRef<((advice: WeaveAdvice | null) => void) | null>(null);
  useEffect(() => {
    if (!view || view.state === 'working' || !waiting.current) return;
    if (view.problem) tellProblem(view.problem);
    waiting.current(view.advice);
    waiting.current = null;
  }, [view]);
  const look = useCallback(
    async (within: 'span' | 'around'): Promise<WeaveAdvice | null> => {
      const { length } = seams.getState();
      const { recipe } = store.getState();
      const begun = await requestWeaveAdvice(pieceId, { recipe, length, within });
      const known = keepNewest(client, keys.weaveAdvice(pieceId), begun);
      if (known.state !== 'working') return known.advice;
      return new Promise((resolve) => {
        waiting.current = resolve;
      });
    },
    [pieceId, store, seams, client],
  );
  return { view, isLooking: view?.state === 'working', look };
}
