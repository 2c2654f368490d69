import type { JoinSettings, LoopSettings } from '@muted-pond/core/loop';
import type { Span } from '@muted-pond/core/timing';
import { tellProblem } from '../ui/notify.js';
import { showOnCourse } from './course-news.js';
import { pieceLoop } from './piece-loop.js';
import { takeNow } from './piece-take.js';
import { setSpan } from './span-edits.js';
import type { Workspace } from './workspace-context.js';

type Edited = Pick<Workspace, 'store' | 'files' | 'session'>;

/**
 * Changes the loop, one undo step. What would leave no reel is refused with a word, and nothing has changed.
 */
export function changeLoop(workspace: Edited, part: Partial<LoopSettings>): void {
  const { recipe, change } = workspace.store.getState();
  const next = { ...recipe, loop: { ...recipe.loop, ...part } };
  const { problem } = pieceLoop(next, takeNow(workspace));
  if (problem === null) change(() => next);
  else tellProblem(problem);
}

export function setJoin(workspace: Edited, join: JoinSettings): void {
  changeLoop(workspace, { join });
}

/** Takes a place to join: the span is that loop, and it plays from its start. */
export function takeSpan(workspace: Edited, span: Span): void {
  showOnCourse();
  setSpan(workspace, { start: span.start, end: span.end }, 'end');
  workspace.session.getState().seekReel(0, span.start);
}

/** Moves one side of the joint by whole source frames. */
export function nudgeEnd(workspace: Edited, which: 'start' | 'end', by: number): void {
  const { span } = workspace.store.getState().recipe;
  setSpan(workspace, { ...span, [which]: span[which] + by }, which);
}

/** The speed at which the span lasts so many seconds. */
export function speedFor(spanSeconds: number, seconds: number): number {
  return Number((spanSeconds / seconds).toFixed(4));
}
