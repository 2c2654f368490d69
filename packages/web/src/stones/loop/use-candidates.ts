import { useMemo, useRef } from 'react';
import { useStore } from 'zustand';
import { useWorkspace } from '../../piece/workspace-context.js';
import type { SeamPlace } from '../../seam/seam-work.js';
import { useLoopView } from './loop-view.js';

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

/** The order that was shown, as long as the places are the same: nothing moves under the pointer. */
function inOrderOf(shown: readonly SeamPlace[], candidates: readonly SeamPlace[]): readonly SeamPlace[] {
  const keyOf = ({ start, end }: SeamPlace) => `${start}-${end}`;
  const now = new Map(candidates.map((place) => [keyOf(place), place]));
  const isSame = shown.length === now.size && shown.every((place) => now.has(keyOf(place)));
  return isSame ? shown.map((place) => now.get(keyOf(place)) as SeamPlace) : bestFirst(candidates);
}
