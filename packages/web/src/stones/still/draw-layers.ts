import { type DrawWay, drawFrame, fitCanvas } from '../../stage/draw.js';
import type { HeldPictures, LayerPictures } from '../../workers/composed-pictures.js';

/** Wet paint, and what else lets the layer through that it lies in. */
export interface WetLayers {
  /** The paint, in the take's shape. */
  readonly paint: OffscreenCanvas;
  /** The layer it lies in; null: a new one above all. */
  readonly layer: number | null;
  /** What lets that layer through beside the ripple that is painted, in the take's shape. */
  readonly besides: OffscreenCanvas | null;
  /** Grows with every change, so that it is drawn again. */
  readonly version: number;
}

type Context = CanvasRenderingContext2D;

/** What is held; grey and dim where it is muted. */
export function drawPlate(context: Context, { plate }: HeldPictures, isMuted: boolean): void {
  context.drawImage(plate, 0, 0);
  if (isMuted) mute(context);
}

/** What moves, over the plate. */
export function drawMoving(context: Context, { masks }: HeldPictures, { moving }: LayerPictures): void {
  for (const [i, picture] of moving.entries()) {
    layThrough(context, picture, (to) => to.drawImage(masks[i], 0, 0));
  }
}

/**
 * What the steps would make of the paint if the hand let go now: quicker, since only the masks are drawn
 * anew.
 */
export function drawWhilePainting(
  context: Context,
  { masks }: HeldPictures,
  { whole, moving }: LayerPictures,
  { paint, layer, besides }: WetLayers,
  way: DrawWay,
): void {
  const drawWet = (to: Context) => {
    for (const mask of besides ? [besides, paint] : [paint]) drawMask(to, mask, way);
  };
  for (const [i, picture] of moving.entries()) {
    layThrough(context, picture, i === layer ? drawWet : (to) => to.drawImage(masks[i], 0, 0));
  }
  if (layer === null) layThrough(context, whole, (to) => drawMask(to, paint, way));
}

/** A mask of the take's shape, framed as the picture is. */
function drawMask(context: Context, mask: OffscreenCanvas, way: DrawWay): void {
  const { width, height } = context.canvas;
  const placement = { x: 0, y: 0, ...way.takeSize };
  drawFrame(
    context,
    mask,
    { placement },
    { ...way, matte: 'transparent', size: { width, height } },
    { alpha: 1 },
  );
  context.resetTransform();
}

let scratch: { readonly frame: Context; readonly mask: Context } | null = null;

/** Lays a picture over what is there, only where its masks let it through. */
function layThrough(context: Context, picture: ImageBitmap, drawMasks: (to: Context) => void): void {
  scratch ??= { frame: newContext(), mask: newContext() };
  const { frame, mask } = scratch;
  const { width, height } = context.canvas;
  for (const one of [frame, mask]) {
    fitCanvas(one, { width, height });
    one.resetTransform();
    one.globalAlpha = 1;
    one.globalCompositeOperation = 'source-over';
    one.clearRect(0, 0, width, height);
  }
  drawMasks(mask);
  frame.drawImage(picture, 0, 0);
  frame.globalCompositeOperation = 'destination-in';
  frame.drawImage(mask.canvas, 0, 0);
  context.resetTransform();
  context.globalAlpha = 1;
  // Taken out and then added: each is rounded once, where laying over would round twice.
  context.globalCompositeOperation = 'destination-out';
  context.drawImage(mask.canvas, 0, 0);
  context.globalCompositeOperation = 'lighter';
  context.drawImage(frame.canvas, 0, 0);
  context.globalCompositeOperation = 'source-over';
}

function newContext(): Context {
  return document.createElement('canvas').getContext('2d') as Context;
}

/** Grey and dim: what is held. */
function mute(context: Context): void {
  const { width, height } = context.canvas;
  context.globalCompositeOperation = 'saturation';
  context.fillStyle = '#808080';
  context.fillRect(0, 0, width, height);
  context.globalCompositeOperation = 'multiply';
  context.fillStyle = '#a8b4ae';
  context.fillRect(0, 0, width, height);
  context.globalCompositeOperation = 'source-over';
}
