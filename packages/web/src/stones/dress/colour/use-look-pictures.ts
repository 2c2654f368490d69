import type { LoopReel } from '@muted-pond/core/loop';
import { useEffect } from 'react';
import { useStore } from 'zustand';
import type { StagePlan } from '../../../pictures/composed-frames.js';
import { useWorkspace } from '../../../piece/workspace-context.js';
import { closeLooks, showLooks, useDressView } from '../dress-view.js';

/**
 * Keeps small pictures of each look on a frame of this loop: the one on the stage when it stands still. While a hand is down, and while
 * the reel plays, they stay as they are.
 */
export function useLookPictures(plan: StagePlan, loop: LoopReel | null): void {
  const { composed, session, store } = useWorkspace();
  const isWanted = useDressView(({ tab, bare }) => tab === 'colour' && !bare);
  const isHandDown = useStore(store, (state) => state.draft !== null);
  const isPlaying = useStore(session, (state) => state.playing);
  const place = useStore(session, (state) => (state.playing ? null : state.place));
  const round = loop?.round ?? 0;
  useEffect(() => {
    if (isHandDown || !isWanted || round === 0) return;
    let current = true;
    const shown = isPlaying || place === null ? session.getState().place : place;
    composed.looks(plan, Math.min(shown, round - 1)).then(
      (looks) => (current ? showLooks(looks) : closeLooks(looks)),
      // Another plan or place is asked for by then, or the stage says what is wrong.
      () => {},
    );
    return () => {
      current = false;
    };
  }, [composed, plan, place, isPlaying, isHandDown, isWanted, round, session]);
}
