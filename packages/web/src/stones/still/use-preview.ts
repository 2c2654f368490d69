import { type Mask, movingMask, movingShare, type StillSettings } from '@muted-pond/core/still';
import { useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { shownRecipe } from '../../store/piece-store.js';
import { useTake } from '../../workspace/piece-take.js';
import { useWorkspace } from '../../workspace/workspace-context.js';
import { loadMask, maskToCanvas } from './mask-pictures.js';
import { previewOfSize } from './preview-size.js';

export interface MaskPreview {
  /** What moves, in the take's shape, to draw through. */
  readonly canvas: OffscreenCanvas;
  /** Share of the picture that moves. */
  readonly share: number;
}

export interface StillPreview {
  readonly all: MaskPreview | null;
  /** All but one ripple, while that one is painted. */
  readonly others: MaskPreview | null;
  readonly problem: string | null;
}

const NONE: StillPreview = { all: null, others: null, problem: null };

/** What moves by the ripples as they are, and by all but the one that is painted. */
export function useStillPreview(active: string | null): StillPreview {
  const { store } = useWorkspace();
  const { size } = useTake();
  const still = useStore(store, (state) => shownRecipe(state).still);
  const [preview, setPreview] = useState<StillPreview>(NONE);
  useEffect(() => {
    let current = true;
    previewOf(still, active, size).then(
      (next) => current && setPreview(next),
      (error: Error) => current && setPreview((before) => ({ ...before, problem: error.message })),
    );
    return () => {
      current = false;
    };
  }, [still, active, size]);
  return preview;
}

async function previewOf(
  still: StillSettings,
  active: string | null,
  take: { width: number; height: number },
): Promise<StillPreview> {
  const painted = new Map<string, Mask>();
  for (const { mask } of still.ripples) if (mask) painted.set(mask, await loadMask(mask));
  const small = (settings: StillSettings): MaskPreview => {
    const { size, ripples } = previewOfSize(settings, take);
    const mask = movingMask({ ...settings, ripples }, (hash) => painted.get(hash) as Mask, size);
    return { canvas: maskToCanvas(mask), share: movingShare(mask) };
  };
  const without = { ...still, ripples: still.ripples.filter((ripple) => ripple.id !== active) };
  return { all: small(still), others: small(without), problem: null };
}
