import { findCuts, signatureOf } from '@muted-pond/core/motion';
import type { PixelFrame, Size } from '@muted-pond/core/pixels';
import type { Recipe } from '@muted-pond/core/recipe';
import { type RenderPlan, type SteadyFigures, withPlaces } from '@muted-pond/core/render';
import type { MakingFile } from './making-file.js';

/** Pixels × frames that are held at once; each takes about ten bytes. */
export const MOST_HELD = 60e6;
/** Frames that stand for all of a long reel where its colours are chosen. */
const SAMPLE_FRAMES = 24;

/** Frames of a size that are held at once. */
export function mostFrames({ width, height }: Size, mostHeld: number): number {
  return Math.max(2, Math.floor(mostHeld / (width * height)));
}

/** How many of the frames that are left the next part has: all parts are about as long, none longer than `most`. */
export function nextPart(left: number, most: number): number {
  return Math.round(left / Math.ceil(left / most));
}

/**
 * The plan part by part, so that no more is held at once than `mostHeld`: one part for what people mostly
 * make.
 */
export function partsOf(plan: RenderPlan, mostHeld: number): RenderPlan[] {
  const most = mostFrames(plan.size, mostHeld);
  const parts: RenderPlan[] = [];
  for (let from = 0; from < plan.reel.length; ) {
    const until = from + nextPart(plan.reel.length - from, most);
    parts.push(placesOf(plan, from, until));
    from = until;
  }
  return parts;
}

/** The plan with the places from … to − 1 of its reel. */
export function placesOf(plan: RenderPlan, from: number, to: number): RenderPlan {
  return withPlaces(plan, (all) => all.slice(from, to));
}

/**
 * Where a part best ends: before the last scene that begins in its second half, whose first frame is drawn anew
 * whatever stands before it; else behind its last frame.
 */
export function endOfPart(frames: readonly PixelFrame[]): number {
  const cuts = findCuts(frames.map(signatureOf));
  const last = cuts[cuts.length - 1] ?? 0;
  return last * 2 >= frames.length ? last : frames.length;
}

/** Frames from all over the plan's reel. */
export function sampleOf(plan: RenderPlan): RenderPlan {
  const { length } = plan.reel;
  const count = Math.min(length, SAMPLE_FRAMES);
  return withPlaces(plan, (all) =>
    Array.from({ length: count }, (_, k) => all[Math.floor((k * length) / count)]),
  );
}

/** Whether any frame may have pixels that are not opaque. */
export function mayBeClear({ sources, framing, dress }: Recipe, files: readonly MakingFile[]): boolean {
  const [source] = sources;
  return (
    files.some(({ facts }) => facts.hasAlpha) ||
    (source.kind === 'stills' && source.matte === 'transparent') ||
    framing.box?.matte === 'transparent' ||
    dress.corners?.fill === 'transparent'
  );
}

/** The figures of all parts together. */
export function joinSteady(parts: readonly (SteadyFigures | null)[]): SteadyFigures | null {
  const known = parts.filter((part) => part !== null);
  if (known.length === 0) return null;
  const frames = known.reduce((sum, part) => sum + part.frames, 0);
  const meanSquare = (name: 'beforePx' | 'afterPx') =>
    Math.sqrt(known.reduce((sum, part) => sum + part[name] ** 2 * part.frames, 0) / Math.max(1, frames));
  return {
    beforePx: meanSquare('beforePx'),
    afterPx: meanSquare('afterPx'),
    frames,
    untrusted: known.reduce((sum, part) => sum + part.untrusted, 0),
  };
}
