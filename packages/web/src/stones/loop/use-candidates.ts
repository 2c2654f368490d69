import { joinOf } from '@muted-pond/core/loop';
import { useMemo, useRef } from 'react';
import { useStore } from 'zustand';
import { useWorkspace } from '../../piece/workspace-context.js';
import type { SeamPlace } from '../../seam/seam-work.js';
import { useLoopView } from './loop-view.js';

/** What a place is joined by: “cut”, “flowed 12”. */
export function placeWords({ join }: Pick<SeamPlace, 'join'>): string {
  const { label, framesOf } = joinOf(join);
  const frames = framesOf(join);
  return frames > 0 ? `${label} ${frames}` : label;
}

/** Tells places from each other. */
export function placeKey({ start, end, join }: SeamPlace): string {
  return `${start}-${end}-${join.kind}`;
}

const NONE: readonly SeamPlace[] = [];

/** Places to join, with scores as far as they are measured; the best first, once all are. */
export function useCandidates(): readonly SeamPlace[] {
  const { seams } = useWorkspace();
  const candidates = useStore(seams, ({ better, found }) => better?.candidates ?? found?.candidates ?? NONE);
  const isHeld = useLoopView(({ tried }) => tried !== null);
  const shown = useRef<readonly SeamPlace[]>(NONE);
  return useMemo(() => {
    shown.current = isHeld ? inOrderOf(shown.current, candidates) : bestFirst(candidates);
    return shown.current;
  }, [candidates, isHeld]);
}

function bestFirst(candidates: readonly SeamPlace[]): readonly SeamPlace[] {
  const areMeasured = candidates.every(({ isMeasured }) => isMeasured);
  return areMeasured ? [...candidates].sort((one, other) => other.rank - one.rank) : candidates;
}

/** The order that was shown, as long as its places are there, then those that are new: nothing moves under the pointer. */
function inOrderOf(shown: readonly SeamPlace[], candidates: readonly SeamPlace[]): readonly SeamPlace[] {
  const now = new Map(candidates.map((place) => [placeKey(place), place]));
  const known = new Set(shown.map(placeKey));
  if (shown.length === 0 || !shown.every((place) => now.has(placeKey(place)))) return bestFirst(candidates);
  const added = candidates.filter((place) => !known.has(placeKey(place)));
  return [...shown.map((place) => now.get(placeKey(place)) as SeamPlace), ...added];
}
