import type { Rect } from '@muted-pond/core/pixels';
import type { ReelFrame } from '@muted-pond/core/timing';
import { useEffect, useState } from 'react';
import { frameKey } from '../api/frame-urls.js';
import { useTake } from '../piece/piece-take.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { type DrawWay, drawFrame } from './draw.js';
import { overlaidParts } from './overlaid-parts.js';

/** A working frame of the take, untouched. */
export interface FilmedFrame {
  readonly bitmap: ImageBitmap;
  readonly placement: Rect;
  /** How much of it is seen over the one before, 0–1. */
  readonly alpha: number;
}

/** What a place of the reel shows, as it was filmed; null until it is there, or while it is not wanted. */
export function useAsFilmed(pick: ReelFrame, isWanted: boolean): readonly FilmedFrame[] | null {
  const { frames } = useWorkspace();
  const take = useTake();
  const [filmed, setFilmed] = useState<readonly FilmedFrame[] | null>(null);
  useEffect(() => {
    if (!isWanted) return setFilmed(null);
    let current = true;
    Promise.all(
      overlaidParts(pick).map(async ({ source, alpha }) => {
        const { file, frame, placement } = take.frame(source);
        return { bitmap: await frames.load(frameKey(file.hash, frame)), placement, alpha };
      }),
    ).then(
      (all) => current && setFilmed(all),
      () => current && setFilmed(null), // the composed picture tells what is wrong
    );
    return () => {
      current = false;
    };
  }, [frames, take, pick, isWanted]);
  return filmed;
}

/** Draws it in the canvas's own size. */
export function drawAsFilmed(
  context: CanvasRenderingContext2D,
  filmed: readonly FilmedFrame[],
  way: DrawWay,
): void {
  const { width, height } = context.canvas;
  for (const [i, one] of filmed.entries()) {
    const over = i === 0 ? null : { alpha: one.alpha };
    drawFrame(context, one.bitmap, one, { ...way, size: { width, height } }, over);
  }
}
