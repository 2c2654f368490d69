import type { Plate } from '@muted-pond/core/still';
import type { Pick as ReelPick } from '@muted-pond/core/timing';
import { useEffect, useRef, useState } from 'react';
import { layerUrl } from '../../api/layers.js';
import { frameKey } from '../../api/queries.js';
import { type DrawWay, drawFrame, drawnSize } from '../../stage/draw.js';
import stage from '../../stage/stage.module.css';
import type { PieceTake } from '../../workspace/piece-take.js';
import { useWorkspace } from '../../workspace/workspace-context.js';
import type { WetPaint } from './use-painting.js';
import type { MaskPreview, StillPreview } from './use-preview.js';

interface StillCanvasProps {
  readonly take: PieceTake;
  readonly way: DrawWay;
  readonly pick: ReelPick;
  readonly plate: Plate | null;
  readonly preview: StillPreview;
  readonly wet: WetPaint | null;
  readonly muted: boolean;
  readonly ghost: boolean;
  readonly onProblem: (sentence: string | null) => void;
}

/** The plate where the picture is held, the reel where it moves, drawn as soon as both are there. */
export function StillCanvas(props: StillCanvasProps) {
  const { take, way, pick, plate, preview, wet, muted, ghost, onProblem } = props;
  const { frames } = useWorkspace();
  const canvas = useRef<HTMLCanvasElement>(null);
  const plateBitmap = usePlateBitmap(take, plate, onProblem);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    let current = true;
    const sources = [pick.source, ...(pick.blend ? [pick.blend.source] : [])];
    const places = sources.map((source) => take.frame(source));
    const keys = places.map(({ file, frame }) => frameKey(file.hash, frame));
    const draw = (bitmaps: readonly ImageBitmap[]) => {
      if (!current) return;
      const layers = bitmaps.map((bitmap, i) => ({ bitmap, placement: places[i].placement }));
      const share = pick.blend?.share ?? 0;
      const masks = wet ? [preview.others?.canvas, wet.canvas] : [preview.all?.canvas];
      drawStill(context, way, layers, share, plate && plateBitmap, masks, muted, ghost);
      context.canvas.dataset.frame = sources.join(' ');
      onProblem(null);
    };
    const there = keys.map((key) => frames.get(key));
    if (there.every((bitmap) => bitmap !== null)) draw(there);
    else {
      Promise.all(keys.map((key) => frames.load(key))).then(
        draw,
        (error: Error) => current && onProblem(error.message),
      );
    }
    return () => {
      current = false;
    };
  }, [frames, take, way, pick, plate, plateBitmap, preview, wet, wet?.version, muted, ghost, onProblem]);
  return (
    <canvas
      ref={canvas}
      className={stage.canvas}
      role="img"
      aria-label={`The reel at source frame ${pick.source}${plate ? ', held by its plate' : ''}`}
    />
  );
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

function drawStill(
  context: CanvasRenderingContext2D,
  way: DrawWay,
  layers: readonly { bitmap: ImageBitmap; placement: DrawnPlate['placement'] }[],
  share: number,
  plate: DrawnPlate | null,
  masks: readonly (OffscreenCanvas | undefined | MaskPreview['canvas'])[],
  muted: boolean,
  ghost: boolean,
): void {
  const [first, second] = layers;
  if (!plate) {
    drawFrame(context, first.bitmap, first, way);
    if (second) drawFrame(context, second.bitmap, second, way, { alpha: share });
    return;
  }
  const moving = scratchOf(drawnSize(way));
  drawMasks(moving.mask, way, masks);
  drawFrame(moving.frame, first.bitmap, first, way);
  if (second) drawFrame(moving.frame, second.bitmap, second, way, { alpha: share });
  moving.frame.resetTransform();
  moving.frame.globalAlpha = 1;
  moving.frame.globalCompositeOperation = 'destination-in';
  moving.frame.drawImage(moving.mask.canvas, 0, 0);

  drawFrame(context, plate.bitmap, plate, way);
  if (muted) mute(context);
  context.resetTransform();
  context.globalAlpha = 1;
  context.globalCompositeOperation = 'source-over';
  context.drawImage(moving.frame.canvas, 0, 0);
  if (ghost) drawFrame(context, plate.bitmap, plate, way, { alpha: 0.5 });
}

/** Everything that moves by any of the masks. */
function drawMasks(
  context: CanvasRenderingContext2D,
  way: DrawWay,
  masks: readonly (OffscreenCanvas | undefined)[],
): void {
  const { width, height } = drawnSize(way);
  context.canvas.width = width;
  context.canvas.height = height;
  const placement = { x: 0, y: 0, ...way.takeSize };
  const clear = { ...way, matte: 'transparent' as const };
  for (const mask of masks) if (mask) drawFrame(context, mask, { placement }, clear, { alpha: 1 });
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
