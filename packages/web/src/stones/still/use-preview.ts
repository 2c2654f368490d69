import type { Mask, MovingLayer, Ripple } from '@muted-pond/core/still';
import { movingMask, movingShare } from '@muted-pond/core/still';
import { useEffect, useMemo, useState } from 'react';
import { maskToCanvas, paintOf } from '../../paint/mask-pictures.js';
import { previewOfSize } from '../../paint/preview-size.js';
import type { WetPaint } from '../../paint/use-painter.js';
import { useMovingLayers } from '../../piece/piece-loop.js';
import { useTake } from '../../piece/piece-take.js';
import { sentenceOf } from '../../ui/sentence.js';
import type { WetLayers } from './draw-layers.js';

export interface StillPreview {
  /** The layer of the ripple that is painted; null where it has none yet. */
  readonly layer: number | null;
  /** What lets that layer through without the ripple that is painted, in the take's shape. */
  readonly besides: OffscreenCanvas | null;
  /** Share of the picture that moves; null until it is known. */
  readonly share: number | null;
  readonly problem: string | null;
}

const NONE: StillPreview = { layer: null, besides: null, share: null, problem: null };

/** How much moves by the ripples as they are, and what lies beside the one that is painted. */
export function useStillPreview(active: string | null): StillPreview {
  const { size } = useTake();
  const layers = useMovingLayers();
  const [preview, setPreview] = useState<StillPreview>(NONE);
  useEffect(() => {
    let current = true;
    previewOf(layers, active, size).then(
      (next) => current && setPreview(next),
      (error: Error) => current && setPreview((before) => ({ ...before, problem: sentenceOf(error) })),
    );
    return () => {
      current = false;
    };
  }, [layers, active, size]);
  return preview;
}

/** Wet paint in its layer. */
export function useWetLayers(wet: WetPaint | null, { layer, besides }: StillPreview): WetLayers | null {
  return useMemo(
    () => wet && { paint: wet.canvas, version: wet.version, layer, besides },
    [wet, layer, besides],
  );
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
  const layer = layers.findIndex(({ ripples }) => ripples.some((ripple) => ripple.id === active));
  const others = layers[layer]?.ripples.filter((ripple) => ripple.id !== active) ?? [];
  return {
    layer: layer < 0 ? null : layer,
    besides: others.length > 0 ? maskToCanvas(maskOf(others)) : null,
    share: movingShare(maskOf(layers.flatMap(({ ripples }) => ripples))),
    problem: null,
  };
}
