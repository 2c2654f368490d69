import type { FootageView } from '@muted-pond/core/api';
import type { FrameTimes } from '@muted-pond/core/timing';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { useStore } from 'zustand';
import { shownRecipe } from '../store/piece-store.js';
import { useWorkspace } from '../workspace/workspace-context.js';
import type { FrameCache } from './frame-cache.js';
import { frameDue, framesAhead } from './playback.js';
import classes from './stage.module.css';

/** Frames fetched ahead of the one that plays. */
const AHEAD = 14;

interface FootageStageProps {
  readonly footage: FootageView;
  readonly times: FrameTimes;
  readonly frames: FrameCache;
  /** Pills and other things laid over the stage. */
  readonly children?: ReactNode;
}

/** The footage itself: a frame by index, or the span looping at true speed. */
export function FootageStage({ footage, times, frames, children }: FootageStageProps) {
  const { store, session } = useWorkspace();
  const canvas = useRef<HTMLCanvasElement>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const playing = useStore(session, (state) => state.playing);
  const playhead = useStore(session, (state) => state.playhead);

  useEffect(() => {
    const context = canvas.current?.getContext('2d', { alpha: false });
    if (!context) return;
    let current = true;
    const draw = (bitmap: ImageBitmap) => {
      if (!current) return;
      if (context.canvas.width !== bitmap.width || context.canvas.height !== bitmap.height) {
        context.canvas.width = bitmap.width;
        context.canvas.height = bitmap.height;
      }
      context.drawImage(bitmap, 0, 0);
      context.canvas.dataset.frame = String(playhead);
      setProblem(null);
    };
    const there = frames.get(playhead);
    if (there) draw(there);
    else frames.load(playhead).then(draw, (error: Error) => current && setProblem(error.message));
    return () => {
      current = false;
    };
  }, [frames, playhead]);

  useEffect(() => {
    if (!playing) return;
    let from = session.getState().playhead;
    let began = performance.now();
    let due = from;
    let frameRequest = 0;
    const tick = (now: number) => {
      const { span } = shownRecipe(store.getState());
      const { playhead: seen, seek } = session.getState();
      // Someone moved the playhead or the span: go on from there.
      if (seen !== due) {
        from = seen;
        began = now;
      }
      due = frameDue(times, span, from, (now - began) / 1000);
      frames.prefetch(framesAhead(span, due, AHEAD));
      // A frame that is not there yet holds the clock rather than being skipped.
      if (due !== seen && frames.get(due)) seek(due);
      else if (due !== seen) {
        void frames.load(due).catch(() => {});
        due = seen;
        from = seen;
        began = now;
      }
      frameRequest = requestAnimationFrame(tick);
    };
    frameRequest = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(frameRequest);
  }, [playing, times, frames, session, store]);

  return (
    <div className={classes.stage} data-testid="stage">
      <canvas
        ref={canvas}
        className={classes.picture}
        aria-label={`Frame ${playhead} of ${footage.name}`}
        role="img"
      />
      {problem && <p className={classes.problem}>{problem}</p>}
      {children}
    </div>
  );
}
