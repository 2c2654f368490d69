import type { ReelFrame } from '@muted-pond/core/timing';
import { useLayoutEffect, useRef } from 'react';
import type { StagePlan } from '../pictures/composed-frames.js';
import type { ComposedPictures } from '../workers/composed-pictures.js';
import { type DrawWay, drawnSize, fitCanvas } from './draw.js';
import classes from './stage.module.css';
import { drawAsFilmed, useAsFilmed } from './use-as-filmed.js';
import { useComposedPlace } from './use-stage-plan.js';

interface ComposedCanvasProps {
  readonly plan: StagePlan;
  readonly place: number;
  /** Shown until the first place is there. */
  readonly meanwhile: { readonly way: DrawWay; readonly pick: ReelFrame };
  readonly label: string;
  readonly onProblem: (sentence: string | null) => void;
  /** Told of what is on the canvas. */
  readonly onShown?: (pictures: ComposedPictures) => void;
}

/** A place of the reel as the steps make it: what the file is made from. */
export function ComposedCanvas({ plan, place, meanwhile, label, onProblem, onShown }: ComposedCanvasProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const shown = useComposedPlace(plan, place, onProblem);
  const { way, pick } = meanwhile;
  const filmed = useAsFilmed(pick, !shown);
  useLayoutEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (context && !shown && filmed) {
      fitCanvas(context, drawnSize(way));
      drawAsFilmed(context, filmed, way);
    }
    // One that is closed has no width.
    if (!context || !shown || shown.pictures.frame.width === 0) return;
    const { frame } = shown.pictures;
    fitCanvas(context, frame);
    context.resetTransform();
    context.globalAlpha = 1;
    context.clearRect(0, 0, frame.width, frame.height);
    context.drawImage(frame, 0, 0);
    context.canvas.dataset.place = String(shown.place);
    onShown?.(shown.pictures);
  }, [shown, filmed, way, onShown]);
  return <canvas ref={canvas} className={classes.canvas} role="img" aria-label={label} />;
}
