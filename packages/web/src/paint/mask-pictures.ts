import { UserError } from '@muted-pond/core/errors';
import type { Rect } from '@muted-pond/core/pixels';
import { createMask, type Mask, type Ripple } from '@muted-pond/core/still';
import { LRUCache } from 'lru-cache';
import { layerUrl } from '../api/frame-urls.js';
import { putLayer } from '../api/layers.js';

/** Masks as pictures and back. */

function canvasOf({ width, height }: { width: number; height: number }): OffscreenCanvas {
  return new OffscreenCanvas(width, height);
}

/** Grey, opaque, without loss. */
function maskToPng(mask: Mask): Promise<Blob> {
  const canvas = canvasOf(mask);
  const image = new ImageData(mask.width, mask.height);
  for (let p = 0, i = 0; p < mask.values.length; p++, i += 4) {
    image.data[i] = image.data[i + 1] = image.data[i + 2] = mask.values[p];
    image.data[i + 3] = 255;
  }
  context2d(canvas).putImageData(image, 0, 0);
  return canvas.convertToBlob({ type: 'image/png' });
}

export async function pngToMask(png: Blob): Promise<Mask> {
  const bitmap = await createImageBitmap(png, { colorSpaceConversion: 'none', premultiplyAlpha: 'none' });
  const canvas = canvasOf(bitmap);
  const context = context2d(canvas);
  context.drawImage(bitmap, 0, 0);
  const { data } = context.getImageData(0, 0, bitmap.width, bitmap.height);
  const values = Uint8Array.from({ length: bitmap.width * bitmap.height }, (_, p) => data[p * 4]);
  const mask = createMask(bitmap.width, bitmap.height, values);
  bitmap.close();
  return mask;
}

/** Masks kept in memory. */
const MOST_MASKS = 60;
const masks = new LRUCache<string, Promise<Mask>>({ max: MOST_MASKS });

/** A painted mask by its hash. Never to be painted on: copies are. @throws when it is gone. */
export function loadMask(hash: string): Promise<Mask> {
  const there = masks.get(hash);
  if (there) return there;
  const loading = fetch(layerUrl(hash)).then(async (response) => {
    if (!response.ok)
      throw new UserError(
        'paint_gone',
        'The paint of this ripple is gone from the disk. Undo, or paint it anew.',
      );
    return pngToMask(await response.blob());
  });
  loading.catch(() => masks.delete(hash));
  masks.set(hash, loading);
  return loading;
}

/** The paint of some ripples, by its hash. @throws when some of it is gone. */
export async function paintOf(ripples: readonly Ripple[]): Promise<(hash: string) => Mask> {
  const painted = new Map<string, Mask>();
  for (const { mask } of ripples) if (mask) painted.set(mask, await loadMask(mask));
  return (hash) => painted.get(hash) as Mask;
}

/** Keeps a mask. @param what it is called when it cannot be kept. @returns its hash. */
export async function keepMask(mask: Mask, what: string): Promise<string> {
  const { hash } = await putLayer(await maskToPng(mask), what);
  masks.set(hash, Promise.resolve(mask));
  return hash;
}

/** A mask as something to draw through: white, as much there as it moves. */
export function maskToCanvas(mask: Mask): OffscreenCanvas {
  const canvas = canvasOf(mask);
  writeMask(canvas, mask, { x: 0, y: 0, width: mask.width, height: mask.height });
  return canvas;
}

/** Brings a part of the canvas up to the mask. */
export function writeMask(canvas: OffscreenCanvas, mask: Mask, { x, y, width, height }: Rect): void {
  if (width < 1 || height < 1) return;
  const image = new ImageData(width, height);
  for (let row = 0, i = 3; row < height; row++) {
    const at = (y + row) * mask.width + x;
    for (let column = 0; column < width; column++, i += 4) image.data[i] = mask.values[at + column];
  }
  context2d(canvas).putImageData(image, x, y);
}

function context2d(canvas: OffscreenCanvas): OffscreenCanvasRenderingContext2D {
  const context = canvas.getContext('2d', { willReadFrequently: true });
  if (!context) throw new UserError('no_drawing', 'This browser cannot draw pictures.');
  return context;
}
