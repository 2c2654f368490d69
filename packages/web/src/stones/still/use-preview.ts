import { type Mask, type MovingLayer, movingMask, movingShare, type Ripple } from '@muted-pond/core/still';
import type { Reel } from '@muted-pond/core/timing';
import { useEffect, useState } from 'react';
import { useMovingLayers } from '../../workspace/piece-loop.js';
import { useTake } from '../../workspace/piece-take.js';
import { maskToCanvas, paintOf } from './mask-pictures.js';
import { previewOfSize } from './preview-size.js';

/** One layer of what moves, to draw through. */
export interface LayerPreview {
  /** What it shows at each place of the reel. */
  readonly reel: Reel;
  /** The take's shape. */
  readonly mask: OffscreenCanvas;
  /** Without the ripple that is painted; null where that one is not in this layer. */
  readonly withoutActive: OffscreenCanvas | null;
}

export interface StillPreview {
  readonly layers: readonly LayerPreview[];
  /** Share of the picture that moves; null until it is known. */
  readonly share: number | null;
  readonly problem: string | null;
}

const NONE: StillPreview = { layers: [], share: null, problem: null };

/** What moves by the ripples as they are, and without the one that is painted. */
export function useStillPreview(active: string | null): StillPreview {
  const { size } = useTake();
  const layers = useMovingLayers();
  const [preview, setPreview] = useState<StillPreview>(NONE);
  useEffect(() => {
    let current = true;
    previewOf(layers, active, size).then(
      (next) => current && setPreview(next),
      (error: Error) => current && setPreview((before) => ({ ...before, problem: error.message })),
    );
    return () => {
      current = false;
    };
  }, [layers, active, size]);
  return preview;
}

async function previewOf(
  layers: readonly MovingLayer[],
  active: string | null,
  take: { width: number; height: number },
): Promise<StillPreview> {
  const painted = await paintOf(layers.flatMap((layer) => layer.ripples));
  const maskOf = (some: readonly Ripple[]): Mask => {
    const { size, ripples } = previewOfSize(some, take);
    return movingMask(ripples, painted, size);
  };
  return {
    layers: layers.map(({ ripples, reel }) => ({
      reel,
      mask: maskToCanvas(maskOf(ripples)),
      withoutActive: ripples.some((ripple) => ripple.id === active)
        ? maskToCanvas(maskOf(ripples.filter((ripple) => ripple.id !== active)))
        : null,
    })),
    share: movingShare(maskOf(layers.flatMap((layer) => layer.ripples))),
    problem: null,
  };
}
