import { takenFrame } from '@muted-pond/core/timing';
import { useEffect } from 'react';
import { useStore } from 'zustand';
import { frameKey } from '../api/frame-urls.js';
import type { PieceTake } from '../piece/piece-take.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { shownRecipe } from '../store/piece-store.js';
import { frameDue, framesAhead } from './playback.js';

/** Frames fetched ahead of the one that plays. */
const AHEAD = 14;

/** While the session plays: loops the span, at true speed or slower, over the frames that are taken. */
export function usePlaying(take: PieceTake): void {
  const { store, session, frames } = useWorkspace();
  const playing = useStore(session, (state) => state.playing);
  const speed = useStore(session, (state) => state.speed);
  const held = useStore(session, (state) => state.held);

  useEffect(() => {
    if (!playing || held) return;
    const keyOf = (frame: number) => {
      const { file, frame: own } = take.frame(frame);
      return frameKey(file.hash, own);
    };
    let from = session.getState().playhead;
    let began = performance.now();
    let due = from;
    let frameRequest = 0;
    const tick = (now: number) => {
      const { span, sources } = shownRecipe(store.getState());
      const every = sources[0].kind === 'footage' ? sources[0].every : 1;
      const { playhead: seen, seek } = session.getState();
      // Someone moved the playhead or the span: go on from there.
      if (seen !== due) {
        from = seen;
        began = now;
      }
      const passed = frameDue(take.times, span, from, ((now - began) / 1000) * speed);
      due = takenFrame(passed, span.start, every);
      frames.prefetch(framesAhead(span, due, AHEAD).map(keyOf));
      // A frame that is not there yet holds the clock rather than being skipped.
      if (due !== seen && frames.get(keyOf(due))) seek(due);
      else if (due !== seen) {
        void frames.load(keyOf(due)).catch(() => {});
        due = seen;
        from = seen;
        began = now;
      }
      frameRequest = requestAnimationFrame(tick);
    };
    frameRequest = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(frameRequest);
  }, [playing, held, speed, take, frames, session, store]);
}
