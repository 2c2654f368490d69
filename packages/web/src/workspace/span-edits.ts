import { fitSpan, type Span } from '@muted-pond/core/timing';
import type { Workspace } from './workspace-context.js';

/** The span starts at the frame on the stage; a span that ended before keeps its length. */
export function startHere({ store, session, footage }: Workspace): void {
  const { playhead } = session.getState();
  store.getState().change((recipe) => {
    const { start, end } = recipe.span;
    const moved =
      playhead < end ? { start: playhead, end } : { start: playhead, end: playhead + end - start };
    return { ...recipe, span: fitSpan(moved, footage.frameCount, playhead < end ? 'start' : 'end') };
  });
}

/** The frame on the stage is the span's last; a span that began later keeps its length. */
export function endHere({ store, session, footage }: Workspace): void {
  const end = session.getState().playhead + 1;
  store.getState().change((recipe) => {
    const { span } = recipe;
    const start = end > span.start ? span.start : end - (span.end - span.start);
    return { ...recipe, span: fitSpan({ start, end }, footage.frameCount, 'start') };
  });
}

/** Sets start, end or both by number; what cannot be is moved to what can. */
export function setSpan({ store, footage }: Workspace, span: Span, moved: 'start' | 'end'): void {
  store.getState().change((recipe) => ({ ...recipe, span: fitSpan(span, footage.frameCount, moved) }));
}

/** Stops playing and moves by whole frames; the footage's ends are ends. */
export function stepFrames({ session, footage }: Workspace, by: number): void {
  const { playhead, seek, setPlaying } = session.getState();
  setPlaying(false);
  seek(Math.max(0, Math.min(footage.frameCount - 1, playhead + by)));
}
