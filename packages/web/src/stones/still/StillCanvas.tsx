import type { Similarity } from '@muted-pond/core/motion';
import type { Plate } from '@muted-pond/core/still';
import type { Pick as ReelPick } from '@muted-pond/core/timing';
import { useEffect, useRef, useState } from 'react';
import { layerUrl } from '../../api/layers.js';
import { frameKey } from '../../api/queries.js';
import { type DrawnPlace, type DrawWay, drawFrame, drawnSize } from '../../stage/draw.js';
import stage from '../../stage/stage.module.css';
import type { PieceTake } from '../../workspace/piece-take.js';
import { useWorkspace } from '../../workspace/workspace-context.js';
import type { WetPaint } from './use-painting.js';
import type { StillPreview } from './use-preview.js';

interface StillCanvasProps {
  readonly take: PieceTake;
  readonly way: DrawWay;
  /** What the reel shows at this place. */
  readonly pick: ReelPick;
  readonly place: number;
  readonly plate: Plate | null;
  readonly preview: StillPreview;
  readonly wet: WetPaint | null;
  readonly muted: boolean;
  /** Left of it the take as filmed, share of the width; null: nowhere. */
  readonly splitAt: number | null;
  readonly ghost: boolean;
  /** How frames lie against the plate; undone where the ripples are. */
  readonly lies: ReadonlyMap<number, Similarity>;
  readonly onProblem: (sentence: string | null) => void;
}

/** What a layer shows now, and through what. */
interface Seen {
  readonly pick: ReelPick;
  readonly masks: readonly OffscreenCanvas[];
}

/** The plate where the picture is held, the reel where it moves, drawn as soon as both are there. */
export function StillCanvas(props: StillCanvasProps) {
  const { take, way, pick, place, plate, preview, wet, muted, splitAt, ghost, lies, onProblem } = props;
  const { frames } = useWorkspace();
  const canvas = useRef<HTMLCanvasElement>(null);
  const plateBitmap = usePlateBitmap(take, plate, onProblem);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    let current = true;
    const held = plate && plateBitmap;
    const layers = held ? seenLayers(preview, wet, pick, place) : [];
    const picks =
      held && splitAt === null
        ? layers.map((layer) => layer.pick)
        : [pick, ...layers.map((layer) => layer.pick)];
    const keyOf = (source: number) => {
      const { file, frame } = take.frame(source);
      return frameKey(file.hash, frame);
    };
    const sources = [...new Set(picks.flatMap(sourcesOf))];
    const draw = (bitmaps: readonly ImageBitmap[]) => {
      if (!current) return;
      const bitmapOf = (source: number) => bitmaps[sources.indexOf(source)];
      const drawPick = (to: CanvasRenderingContext2D, one: ReelPick, steadied: boolean) => {
        for (const [i, source] of sourcesOf(one).entries()) {
          const at: DrawnPlace = {
            placement: take.frame(source).placement,
            lies: steadied ? lies.get(source) : undefined,
          };
          drawFrame(to, bitmapOf(source), at, way, i === 0 ? null : { alpha: one.blend?.share ?? 0 });
        }
      };
      if (!held) drawPick(context, pick, false);
      else {
        drawFrame(context, held.bitmap, held, way);
        if (muted) mute(context);
        for (const layer of layers) layOver(context, way, layer, (to) => drawPick(to, layer.pick, true));
        if (ghost) drawFrame(context, held.bitmap, held, way, { alpha: 0.5 });
        if (splitAt !== null) drawLeft(context, splitAt, () => drawPick(context, pick, false));
      }
      context.canvas.dataset.frame = sources.join(' ');
      onProblem(null);
    };
    const there = sources.map((source) => frames.get(keyOf(source)));
    if (there.every((bitmap) => bitmap !== null)) draw(there);
    else {
      Promise.all(sources.map((source) => frames.load(keyOf(source)))).then(
        draw,
        (error: Error) => current && onProblem(error.message),
      );
    }
    return () => {
      current = false;
    };
  }, [
    frames,
    take,
    way,
    pick,
    place,
    plate,
    plateBitmap,
    preview,
    wet,
    wet?.version,
    muted,
    splitAt,
    ghost,
    lies,
    onProblem,
  ]);
  return (
    <canvas
      ref={canvas}
      className={stage.canvas}
      role="img"
      aria-label={`The reel at source frame ${pick.source}${plate ? ', held by its plate' : ''}`}
    />
  );
}

function sourcesOf({ source, blend }: ReelPick): number[] {
  return blend ? [source, blend.source] : [source];
}

/** The layers at a place of the reel; wet paint lies in the layer of its ripple, or in a new one above. */
function seenLayers({ layers }: StillPreview, wet: WetPaint | null, pick: ReelPick, place: number): Seen[] {
  const seen = layers.map(({ reel, mask, withoutActive }) => ({
    pick: reel[place] ?? pick,
    masks: wet && withoutActive ? [withoutActive, wet.canvas] : [mask],
  }));
  const isNew = wet && !layers.some((layer) => layer.withoutActive);
  return isNew ? [...seen, { pick, masks: [wet.canvas] }] : seen;
}

interface DrawnPlate {
  readonly bitmap: ImageBitmap;
  readonly placement: { x: number; y: number; width: number; height: number };
}

/** The plate as it is shown on the stage: a working frame, or the retouched picture. */
function usePlateBitmap(
  take: PieceTake,
  plate: Plate | null,
  onProblem: (sentence: string | null) => void,
): DrawnPlate | null {
  const { frames } = useWorkspace();
  const [drawn, setDrawn] = useState<DrawnPlate | null>(null);
  const wanted = JSON.stringify(plate);
  useEffect(() => {
    const now = JSON.parse(wanted) as Plate | null;
    if (!now || now.frame >= take.frameCount) return setDrawn(null);
    let current = true;
    const whole = { x: 0, y: 0, ...take.size };
    const { file, frame, placement } = take.frame(now.frame);
    const load = async (): Promise<DrawnPlate> =>
      now.kind === 'frame'
        ? // The cache may close its bitmaps at any time; the plate stays, so it has a copy.
          { bitmap: await createImageBitmap(await frames.load(frameKey(file.hash, frame))), placement }
        : {
            bitmap: await createImageBitmap(await (await fetch(layerUrl(now.hash))).blob()),
            placement: whole,
          };
    load().then(
      (next) => (current ? setDrawn(next) : next.bitmap.close()),
      () => current && onProblem('The plate cannot be shown. Undo, or hold another frame.'),
    );
    return () => {
      current = false;
    };
  }, [wanted, take, frames, onProblem]);
  // Only when the next one is drawn is the last one let go.
  useEffect(() => () => drawn?.bitmap.close(), [drawn]);
  return drawn;
}

let scratch: HTMLCanvasElement | null = null;

/** Draws something over what is there, only where the layer's masks let it through. */
function layOver(
  context: CanvasRenderingContext2D,
  way: DrawWay,
  { masks }: Seen,
  drawIt: (to: CanvasRenderingContext2D) => void,
): void {
  const moving = scratchOf(drawnSize(way));
  drawMasks(moving.mask, way, masks);
  drawIt(moving.frame);
  moving.frame.resetTransform();
  moving.frame.globalAlpha = 1;
  moving.frame.globalCompositeOperation = 'destination-in';
  moving.frame.drawImage(moving.mask.canvas, 0, 0);
  context.resetTransform();
  context.globalAlpha = 1;
  context.globalCompositeOperation = 'source-over';
  context.drawImage(moving.frame.canvas, 0, 0);
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

/** Everything that moves by any of the masks. */
function drawMasks(context: CanvasRenderingContext2D, way: DrawWay, masks: readonly OffscreenCanvas[]): void {
  const { width, height } = drawnSize(way);
  context.canvas.width = width;
  context.canvas.height = height;
  const placement = { x: 0, y: 0, ...way.takeSize };
  const clear = { ...way, matte: 'transparent' as const };
  for (const mask of masks) drawFrame(context, mask, { placement }, clear, { alpha: 1 });
}

/** Grey and dim: what is held. */
function mute(context: CanvasRenderingContext2D): void {
  const { width, height } = context.canvas;
  context.resetTransform();
  context.globalAlpha = 1;
  context.globalCompositeOperation = 'saturation';
  context.fillStyle = '#808080';
  context.fillRect(0, 0, width, height);
  context.globalCompositeOperation = 'multiply';
  context.fillStyle = '#a8b4ae';
  context.fillRect(0, 0, width, height);
}

let maskScratch: HTMLCanvasElement | null = null;

/** Two canvases that every drawing uses again. */
function scratchOf({ width, height }: { width: number; height: number }) {
  scratch ??= document.createElement('canvas');
  maskScratch ??= document.createElement('canvas');
  if (scratch.width !== width || scratch.height !== height) {
    scratch.width = width;
    scratch.height = height;
  }
  return {
    frame: scratch.getContext('2d') as CanvasRenderingContext2D,
    mask: maskScratch.getContext('2d') as CanvasRenderingContext2D,
  };
}
