import { fitSpan, type Span } from '@muted-pond/core/timing';
import { loopNow } from './piece-loop.js';
import { takeNow } from './piece-take.js';
import type { Workspace } from './workspace-context.js';

type Edited = Pick<Workspace, 'store' | 'files' | 'session'>;

/** The span starts at the frame on the stage; a span that ended before keeps its length. */
export function startHere(workspace: Edited): void {
  const { playhead } = workspace.session.getState();
  const { frameCount } = takeNow(workspace);
  workspace.store.getState().change((recipe) => {
    const { start, end } = recipe.span;
    const moved =
      playhead < end ? { start: playhead, end } : { start: playhead, end: playhead + end - start };
    return { ...recipe, span: fitSpan(moved, frameCount, playhead < end ? 'start' : 'end') };
  });
}

/** The frame on the stage is the span's last; a span that began later keeps its length. */
export function endHere(workspace: Edited): void {
  const end = workspace.session.getState().playhead + 1;
  const { frameCount } = takeNow(workspace);
  workspace.store.getState().change((recipe) => {
    const { span } = recipe;
    const start = end > span.start ? span.start : end - (span.end - span.start);
    return { ...recipe, span: fitSpan({ start, end }, frameCount, 'start') };
  });
}

/** A typed start moves the span and keeps its length, as far as the take reaches. */
export function moveStart(workspace: Edited, start: number): void {
  const { frameCount } = takeNow(workspace);
  workspace.store.getState().change((recipe) => {
    const length = recipe.span.end - recipe.span.start;
    return { ...recipe, span: { start, end: Math.min(frameCount, start + length) } };
  });
}

/** A typed end behind the start is the new end; one before it moves the span there, and keeps its length. */
export function moveEnd(workspace: Edited, end: number): void {
  workspace.store.getState().change((recipe) => {
    const { span } = recipe;
    const start = end > span.start ? span.start : Math.max(0, end - (span.end - span.start));
    return { ...recipe, span: { start, end } };
  });
}

/** Sets start, end or both; what a hand drags too far stays where it can be. */
export function setSpan(workspace: Edited, span: Span, moved: 'start' | 'end'): void {
  const { frameCount } = takeNow(workspace);
  workspace.store.getState().change((recipe) => ({ ...recipe, span: fitSpan(span, frameCount, moved) }));
}

/** A span of so many frames from the one on the stage, as far as the take reaches. */
export function framesFromHere(workspace: Edited, frames: number): void {
  const start = workspace.session.getState().playhead;
  setSpan(workspace, { start, end: start + Math.max(1, Math.round(frames)) }, 'end');
}

/**
 * Stops playing and moves by whole frames: of the take, whose ends are ends; or of the reel, round the joint.
 */
export function stepFrames(workspace: Edited, by: number): void {
  const { playhead, seek, setPlaying, walk, place, seekReel } = workspace.session.getState();
  setPlaying(false);
  const loop = walk === 'reel' ? loopNow(workspace) : null;
  if (loop) {
    const next = (((place + by) % loop.round) + loop.round) % loop.round;
    seekReel(next, loop.reel[next].source);
    return;
  }
  seek(Math.max(0, Math.min(takeNow(workspace).frameCount - 1, playhead + by)));
}
