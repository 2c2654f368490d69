import { isUnnoticed, PLAIN_CUT } from '@muted-pond/core/loop';
import type { Recipe } from '@muted-pond/core/recipe';
import {
  type Outline,
  type OutlinePoint,
  type Plate,
  PROPOSED_EDGE,
  type Ripple,
  type StillSettings,
} from '@muted-pond/core/still';
import { wovenRound } from '../../piece/loop-edits.js';
import type { FoundRounds } from '../../seam/seam-work.js';

/** Changes of what is held; all pure. */

/** Fewer points close nothing in. */
export const LEAST_POINTS = 3;
/** What a freshly painted ripple begins with. */
const FRESH_FEATHER = 6;

export function newRipple(name: string, part: Partial<Ripple> = {}): Ripple {
  return {
    ...{ id: crypto.randomUUID(), name, mask: null, outlines: [], grow: 0, feather: FRESH_FEATHER },
    ...{ invert: false, shown: true, loop: null },
    ...part,
  };
}

/** The next free name. */
export function rippleName({ ripples }: StillSettings): string {
  const taken = new Set(ripples.map((ripple) => ripple.name));
  let number = ripples.length + 1;
  while (taken.has(`Ripple ${number}`)) number++;
  return `Ripple ${number}`;
}

export function changeRipple(still: StillSettings, id: string, part: Partial<Ripple>): StillSettings {
  return { ...still, ripples: still.ripples.map((one) => (one.id === id ? { ...one, ...part } : one)) };
}

export function dropRipple(still: StillSettings, id: string): StillSettings {
  return { ...still, ripples: still.ripples.filter((ripple) => ripple.id !== id) };
}

/** Moves a ripple one place up or down its list. */
export function moveRipple(still: StillSettings, id: string, by: 1 | -1): StillSettings {
  const from = still.ripples.findIndex((ripple) => ripple.id === id);
  const to = from + by;
  if (from < 0 || to < 0 || to >= still.ripples.length) return still;
  const ripples = [...still.ripples];
  [ripples[from], ripples[to]] = [ripples[to], ripples[from]];
  return { ...still, ripples };
}

/** A ripple more; the first one holds the frame on the stage. */
export function withRipple(
  still: StillSettings,
  { name, ...part }: Partial<Ripple> & { readonly name: string },
  frame: number,
): { readonly still: StillSettings; readonly id: string } {
  const plate: Plate = still.plate ?? { kind: 'frame', frame };
  const fresh = newRipple(name, part);
  return { still: { ...still, plate, ripples: [...still.ripples, fresh] }, id: fresh.id };
}

/** What is painted belongs to a ripple; the first stroke makes one. */
export function withPaint(
  still: StillSettings,
  id: string | null,
  mask: string,
  frame: number,
): { readonly still: StillSettings; readonly id: string } {
  const there = still.ripples.find((ripple) => ripple.id === id);
  if (!there) return withRipple(still, { name: rippleName(still), mask }, frame);
  const plate: Plate = still.plate ?? { kind: 'frame', frame };
  return { still: { ...changeRipple(still, there.id, { mask }), plate }, id: there.id };
}

/** An outline is laid over a ripple; the first one makes a ripple, in which it always adds. */
export function withOutline(
  still: StillSettings,
  id: string | null,
  outline: Outline,
  frame: number,
): { readonly still: StillSettings; readonly id: string } {
  const there = still.ripples.find((ripple) => ripple.id === id);
  if (!there) {
    return withRipple(still, { name: rippleName(still), outlines: [{ ...outline, adds: true }] }, frame);
  }
  const plate: Plate = still.plate ?? { kind: 'frame', frame };
  const outlines = [...there.outlines, outline];
  return { still: { ...changeRipple(still, there.id, { outlines }), plate }, id: there.id };
}

/**
 * Each ripple goes round by itself, and the span is as long as their common round. One that has no good loop of
 * that length is woven, where the footage is long enough.
 */
export function withRounds(recipe: Recipe, { frames, rounds }: FoundRounds, frameCount: number): Recipe {
  const start = Math.max(0, Math.min(recipe.span.start, frameCount - frames));
  const ripples = recipe.still.ripples.map((ripple) => {
    const found = rounds.find(({ id }) => id === ripple.id);
    if (!found) return ripple;
    const woven = isUnnoticed(found.score) ? null : wovenRound(found.round.span, frames, frameCount);
    return { ...ripple, loop: woven ? { ...woven, rounds: 1 } : found.round };
  });
  return {
    ...recipe,
    span: { start, end: Math.min(frameCount, start + frames) },
    loop: { ...recipe.loop, join: PLAIN_CUT, speed: 1 },
    still: { ...recipe.still, ripples },
  };
}

/** One point of an outline moved, bent or straightened; without its third last point an outline goes. */
export function changePoint(
  outlines: readonly Outline[],
  which: number,
  point: number,
  change: Partial<OutlinePoint> | null,
): readonly Outline[] {
  return outlines.flatMap((outline, i) => {
    if (i !== which) return [outline];
    const points = outline.points.flatMap((one, k) =>
      k === point ? (change ? [{ ...one, ...change }] : []) : [one],
    );
    return points.length >= LEAST_POINTS ? [{ ...outline, points }] : [];
  });
}

/** The proposal instead of the ripples that were there. */
export function withProposal(still: StillSettings, masks: readonly string[], frame: number): StillSettings {
  return {
    ...still,
    plate: still.plate ?? { kind: 'frame', frame },
    ripples: masks.map((mask, i) => newRipple(`Moving part ${i + 1}`, { mask, ...PROPOSED_EDGE })),
  };
}
