import { type ActivitySeries, calmestSpan, spanToRest } from '@muted-pond/core/motion';
import { takeNow } from '../piece/piece-take.js';
import { setSpan } from '../piece/span-edits.js';
import type { Workspace } from '../piece/workspace-context.js';

/** What moves is at rest once it rests for this long, s. */
const REST_SECONDS = 0.3;

/** Puts the span, in its present length, where the picture is calmest: anywhere, or around a frame. */
export function takeCalmest(workspace: Workspace, activity: ActivitySeries, holding?: number): void {
  const { span } = workspace.store.getState().recipe;
  const calmest = calmestSpan(activity, span.end - span.start, holding);
  if (calmest) goTo(workspace, calmest);
}

/** From the frame on the stage to where what moves comes to rest. */
export function takeToRest(workspace: Workspace, activity: ActivitySeries): void {
  const { frameRate } = takeNow(workspace);
  const { playhead } = workspace.session.getState();
  goTo(workspace, spanToRest(activity, playhead, Math.max(2, Math.round(REST_SECONDS * frameRate))));
}

function goTo(workspace: Workspace, span: { readonly start: number; readonly end: number }): void {
  setSpan(workspace, span, 'end');
  workspace.session.getState().seek(span.start);
}
