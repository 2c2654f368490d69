import type { ReelFrame } from '@muted-pond/core/timing';
import { useEffect, useRef } from 'react';
import type { StagePlan } from '../../pictures/composed-frames.js';
import { type DrawWay, drawnSize, fitCanvas } from '../../stage/draw.js';
import stage from '../../stage/stage.module.css';
import { drawAsFilmed, useAsFilmed } from '../../stage/use-as-filmed.js';
import { type ComposedPlace, useComposedPlace } from '../../stage/use-stage-plan.js';
import { drawMoving, drawPlate, drawWhilePainting, type WetLayers } from './draw-layers.js';

interface StillCanvasProps {
  readonly plan: StagePlan;
  readonly way: DrawWay;
  /** What the reel shows at this place. */
  readonly pick: ReelFrame;
  readonly place: number;
  /** What the hand is painting; null while it is not. */
  readonly wet: WetLayers | null;
  readonly muted: boolean;
  /** Left of it the take as filmed, share of the width; null: nowhere. */
  readonly splitAt: number | null;
  /** The plate half-transparent over what is shown. */
  readonly ghost: boolean;
  readonly onProblem: (sentence: string | null) => void;
}

/**
 * The reel as the steps make it at a place, or its layers: held parts muted, wet paint let through at once.
 * Drawn as soon as all of it is there; until then what was there before stays.
 */
export function StillCanvas(props: StillCanvasProps) {
  const { plan, way, pick, place, wet, muted, splitAt, ghost, onProblem } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const shown = useComposedPlace(plan, place, onProblem);
  // The hand has let go, but what it painted is not composed yet: until then the paint stays on the picture.
  const painted = useRef<WetLayers | null>(null);
  if (wet) painted.current = wet;
  else if (shown?.plan === plan) painted.current = null;
  const paint = painted.current;
  const filmed = useAsFilmed(pick, splitAt !== null || !shown);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (context && !shown && filmed) {
      fitCanvas(context, drawnSize(way));
      drawAsFilmed(context, filmed, way);
    }
    // One that is closed has no width.
    if (!context || !shown || shown.pictures.frame.width === 0) return;
    fitCanvas(context, shown.pictures.frame);
    drawPictures(context, shown, { way, wet: paint, muted });
    if (ghost && shown.held) drawOver(context, shown.held.plate, 0.5);
    if (splitAt !== null && filmed) {
      drawLeft(context, splitAt, () => drawAsFilmed(context, filmed, way));
    }
    context.canvas.dataset.frame = String(pick.source);
    context.canvas.dataset.shows = paint ? 'paint' : 'steps';
  }, [shown, filmed, pick, way, paint, muted, splitAt, ghost]);
  return (
    <canvas
      ref={canvas}
      className={stage.canvas}
      role="img"
      aria-label={`The reel at source frame ${pick.source}${shown?.held ? ', held by its plate' : ''}`}
    />
  );
}

function drawPictures(
  context: CanvasRenderingContext2D,
  { pictures: { frame, layers }, held }: ComposedPlace,
  { way, wet, muted }: { way: DrawWay; wet: WetLayers | null; muted: boolean },
): void {
  context.resetTransform();
  context.globalAlpha = 1;
  context.globalCompositeOperation = 'source-over';
  context.clearRect(0, 0, context.canvas.width, context.canvas.height);
  if (!held || !layers || !(wet || muted)) {
    context.drawImage(frame, 0, 0);
    return;
  }
  drawPlate(context, held, muted);
  if (wet) drawWhilePainting(context, held, layers, wet, way);
  else drawMoving(context, held, layers);
}

function drawOver(context: CanvasRenderingContext2D, bitmap: ImageBitmap, alpha: number): void {
  context.globalAlpha = alpha;
  context.drawImage(bitmap, 0, 0);
  context.globalAlpha = 1;
}

/** Draws something over the part left of a line. */
function drawLeft(context: CanvasRenderingContext2D, splitAt: number, drawIt: () => void): void {
  const { width, height } = context.canvas;
  context.save();
  context.resetTransform();
  context.beginPath();
  context.rect(0, 0, width * splitAt, height);
  context.clip();
  drawIt();
  context.restore();
}
