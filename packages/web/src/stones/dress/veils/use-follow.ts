import type { FollowView, FollowWay } from '@muted-pond/core/api';
import { withFollowed } from '@muted-pond/core/dress';
import { skipToken, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { beginFollow, stopFollow } from '../../../api/follow.js';
import { keepNewest } from '../../../api/newest.js';
import { keys } from '../../../api/queries.js';
import { useWorkspace } from '../../../piece/workspace-context.js';
import { tellProblem } from '../../../ui/notify.js';
import { changeEntry } from '../dress-edits.js';

export interface Follow {
  /** Null where nothing was followed since this window opened. */
  readonly view: FollowView | null;
  begin(veil: string, frame: number, way: FollowWay): void;
  stop(): void;
}

/** Followings whose places were laid down already: each is, once. */
const laid = new WeakSet<FollowView>();

/** A veil that follows by itself; where it was found, keys are laid down as one undo step. */
export function useFollow(): Follow {
  const { pieceId, store } = useWorkspace();
  const client = useQueryClient();
  const queryKey = keys.follow(pieceId);
  const view = useQuery<FollowView | null>({ queryKey, queryFn: skipToken }).data ?? null;
  useEffect(() => {
    if (view?.state !== 'done' || laid.has(view)) return;
    laid.add(view);
    if (view.keys.length < 2) return;
    store.getState().change((recipe) => {
      const veil = recipe.dress.veils.find((one) => one.id === view.veil);
      if (!veil) return recipe;
      return changeEntry(recipe, 'veils', veil.id, { keys: withFollowed(veil, view.keys, view.frame) });
    });
  }, [view, store]);
  return {
    view,
    begin: (veil, frame, way) =>
      void beginFollow(pieceId, store.getState().recipe, veil, frame, way).then(
        (next) => keepNewest(client, queryKey, next),
        tellProblem,
      ),
    stop: () => void stopFollow(pieceId).then(() => client.setQueryData(queryKey, null), tellProblem),
  };
}
