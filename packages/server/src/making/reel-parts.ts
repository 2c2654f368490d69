import type { Recipe } from '@muted-pond/core/recipe';
import { type RenderPlan, type SteadyFigures, withPlaces } from '@muted-pond/core/render';
import type { MakingFile } from './making-file.js';

/** Pixels × frames that are held at once; each takes about ten bytes. */
export const MOST_HELD = 60e6;
/** Frames that stand for all of a long reel where its colours are chosen. */
const SAMPLE_FRAMES = 24;

/**
 * The plan part by part, so that no more is held at once than `mostHeld`: one part for what people mostly
 * make.
 */
export function partsOf(plan: RenderPlan, mostHeld: number): RenderPlan[] {
  const each = Math.max(2, Math.floor(mostHeld / (plan.size.width * plan.size.height)));
  const count = Math.ceil(plan.reel.length / each);
  // Parts of about equal length.
  const bound = (part: number) => Math.round((part * plan.reel.length) / count);
  return Array.from({ length: count }, (_, part) =>
    withPlaces(plan, (all) => all.slice(bound(part), bound(part + 1))),
  );
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
