import {
  isSmoothGood,
  type JoinSettings,
  joinOf,
  type LoopSettings,
  MOST_WOVEN,
  WOVEN_LIMITS,
  WOVEN_ROOM,
  type Woven,
  type WovenTouch,
  wovenOver,
} from '@muted-pond/core/loop';
import { fitSpan, type Span } from '@muted-pond/core/timing';
import type { SeamPlace } from '../seam/seam-work.js';
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

/**
 * Changes how fast the span is shown, one undo step. Slowed below the footage's own pace it becomes smooth where that
 * was measured to do well; back at that pace it shows the footage's frames again.
 */
export function changeSpeed(workspace: Edited & Pick<Workspace, 'seams'>, speed: number): void {
  const { speed: before, smooth } = workspace.store.getState().recipe.loop;
  const { better } = workspace.seams.getState();
  const isGood = better !== null && better.smoothness !== null && isSmoothGood(better.smoothness);
  changeLoop(workspace, { speed, smooth: before < 1 === speed < 1 ? smooth : speed < 1 && isGood });
}

export function setJoin(workspace: Edited, join: JoinSettings): void {
  changeLoop(workspace, { join });
}

/** A round and the frames around it that a weave needs of the span. */
const ROOM = 2 * WOVEN_ROOM + 1;

/**
 * Weaves the span: a round as long as it was, where the footage around it has room; else as long as can be.
 */
export function chooseWoven(workspace: Edited): void {
  const { span } = workspace.store.getState().recipe;
  const { frameCount } = takeNow(workspace);
  const frames = Math.max(WOVEN_LIMITS.frames.min, Math.min(span.end - span.start, frameCount - ROOM));
  const made = wovenRound(span, frames, frameCount);
  if (made) takeWoven(workspace, made);
  else tellProblem(`The footage has ${frameCount} frames; to weave a loop takes ${ROOM + frames} at least.`);
}

/** Takes a weave: where its frames may come from, and its settings, in one step. */
export function takeWoven(workspace: Edited, { span, join }: { span: Span; join: JoinSettings }): void {
  const { recipe, change } = workspace.store.getState();
  const next = { ...recipe, span, loop: { ...recipe.loop, join } };
  const { problem } = pieceLoop(next, takeNow(workspace));
  if (problem !== null) {
    tellProblem(problem);
    return;
  }
  change(() => next);
  workspace.session.getState().seekReel(0, span.start);
}

/** A span with so many frames more, on both sides where they are. */
export function widenSpan(workspace: Edited, by: number): void {
  const { span } = workspace.store.getState().recipe;
  const { frameCount } = takeNow(workspace);
  setSpan(workspace, spanAround(span, Math.min(frameCount, span.end - span.start + by), frameCount), 'end');
}

/**
 * A weave of one region that goes round in so many source frames: over as much footage around a span as is of
 * use; null where there is too little.
 */
export function wovenRound(
  around: Span,
  frames: number,
  frameCount: number,
): { readonly span: Span; readonly join: Woven } | null {
  const join = wovenOver(frames);
  const length = join.frames;
  if (length + ROOM > frameCount) return null;
  const pool = Math.min(frameCount, MOST_WOVEN, 2 * length + ROOM);
  return { span: spanAround(around, pool, frameCount), join };
}

function spanAround({ start, end }: Span, length: number, frames: number): Span {
  const from = Math.max(0, Math.min(Math.floor((start + end - length) / 2), frames - length));
  return { start: from, end: Math.min(frames, from + length) };
}

/** What a hand held or set free on the picture, after all that it did before. */
export function touchWoven(workspace: Edited, touch: WovenTouch): void {
  const { join } = workspace.store.getState().recipe.loop;
  const woven = joinOf(join).woven?.(join);
  if (woven) setJoin(workspace, { ...woven, touches: [...woven.touches, touch] });
}

/** Takes a place to join and what it is joined by there: the span is that loop, and it plays from its start. */
export function takePlace(
  workspace: Edited,
  { start, end, join }: Pick<SeamPlace, 'start' | 'end' | 'join'>,
): void {
  const { frameCount } = takeNow(workspace);
  showOnCourse();
  workspace.store.getState().change((recipe) => ({
    ...recipe,
    span: fitSpan({ start, end }, frameCount, 'end'),
    loop: { ...recipe.loop, join },
  }));
  workspace.session.getState().seekReel(0, start);
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
