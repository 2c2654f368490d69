import { type FrameRef, type LoopReel, type ReelEdit, type ReelItem, refOf } from '@muted-pond/core/loop';
import { changeLoop } from '../piece/loop-edits.js';
import { loopNow } from '../piece/piece-loop.js';
import type { Workspace } from '../piece/workspace-context.js';
import { keyOf } from './reel-selection.js';

/**
 * Lays one more edit on the reel, one undo step. Setting the same frames' time again replaces the time
 * before.
 */
export function addEdit(workspace: Workspace, edit: ReelEdit): void {
  const { edits } = workspace.store.getState().recipe.loop;
  changeLoop(workspace, { edits: withEdit(edits, edit) });
}

export function withEdit(edits: readonly ReelEdit[], edit: ReelEdit): readonly ReelEdit[] {
  const last = edits.at(-1);
  const isAgain =
    edit.kind === 'delay' &&
    last?.kind === 'delay' &&
    JSON.stringify(last.frames) === JSON.stringify(edit.frames);
  return [...(isAgain ? edits.slice(0, -1) : edits), edit];
}

/** Names of the chosen frames, in their order. */
export function chosenRefs(items: readonly ReelItem[], chosen: ReadonlySet<string>): FrameRef[] {
  return items.filter((item) => chosen.has(keyOf(item))).map(refOf);
}

export function removeFrames(workspace: Workspace, frames: readonly FrameRef[], keepTime: boolean): void {
  if (frames.length > 0) addEdit(workspace, { kind: 'remove', frames, keepTime });
}

export function refsAt(items: readonly ReelItem[], places: readonly number[]): FrameRef[] {
  return places.map((place) => refOf(items[place]));
}

/** Moves the chosen frames one place on or back. */
export function moveChosen(workspace: Workspace, chosen: ReadonlySet<string>, by: 1 | -1): void {
  const loop = loopNow(workspace);
  if (!loop) return;
  const { items } = loop;
  const frames = chosenRefs(items, chosen);
  const places = items.flatMap((item, place) => (chosen.has(keyOf(item)) ? [place] : []));
  if (places.length === 0) return;
  const others = items.filter((item) => !chosen.has(keyOf(item)));
  // How many of the others come before the first chosen one, then one fewer or one more.
  const at = Math.max(0, Math.min(others.length, places[0] + by));
  moveBefore(workspace, frames, others[at] ?? null);
}

export function moveBefore(workspace: Workspace, frames: readonly FrameRef[], goal: ReelItem | null): void {
  addEdit(workspace, { kind: 'move', frames, before: goal && refOf(goal) });
}

/** The order in which the round lies on the strip: the joint in its middle. */
export function wrapped(round: number): number[] {
  const half = Math.ceil(round / 2);
  return Array.from({ length: round }, (_, shown) => (shown + half) % round);
}

/** The item that a place of the round shows: on the way back, the one it is there again. */
export function itemAt({ items }: Pick<LoopReel, 'items'>, place: number): number {
  return place < items.length ? place : 2 * (items.length - 1) - place;
}

/** Mixtures after every one of the frames, with the last one running into the first. */
export function blendAfterEach(frames: readonly FrameRef[], count: number, delayCs: number): ReelEdit[] {
  return frames.map((after) => ({ kind: 'blend', after, count, delayCs }));
}
