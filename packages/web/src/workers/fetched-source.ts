import { WORKING_LONG_SIDE } from '@muted-pond/core/api';
import { UserError } from '@muted-pond/core/errors';
import { createFrame, type PixelFrame, sizeWithin } from '@muted-pond/core/pixels';
import type { DecodedPicture, FrameSource } from '@muted-pond/core/render';
import { createMask } from '@muted-pond/core/still';
import { LRUCache } from 'lru-cache';
import { fetchWhole } from '../api/fetch-whole.js';
import { frameUrl, layerUrl } from '../api/frame-urls.js';
import { fetchTable } from '../api/layers.js';
import { fetchedTextEngine } from './text-engine.js';

/** Decoded working frames kept, bytes. */
const MOST_BYTES = 128 * 1024 ** 2;

/** Working frames of the server as a source for the steps. Needs a worker: reading pixels takes moments. */
export function fetchedSource(): FrameSource {
  const kept = new LRUCache<string, PixelFrame>({
    maxSize: MOST_BYTES,
    sizeCalculation: ({ rgba }) => rgba.length,
  });
  async function frameAt(hash: string, frame: number, wanted: { width: number; height: number }) {
    const url = frameUrl(hash, frame);
    const there = kept.get(url);
    if (there) return there;
    const picture = await pixelsOf(url, wanted, `Frame ${frame} cannot be shown.`);
    kept.set(url, picture);
    return picture;
  }
  return {
    sizeOf: (file) => sizeWithin(file.size, WORKING_LONG_SIDE),
    async *read({ hash }, frames, size): AsyncGenerator<DecodedPicture> {
      // All are asked for at once, and given in their order.
      const coming = frames.map((frame) => frameAt(hash, frame, size));
      for (const one of coming) one.catch(() => {});
      for (const [i, frame] of frames.entries()) yield { frame, picture: await coming[i] };
    },
    async mask(hash) {
      const gone = 'The paint of this ripple is gone from the disk. Undo, or paint it anew.';
      const { width, height, rgba } = await pixelsOf(layerUrl(hash), null, gone);
      const values = new Uint8Array(width * height);
      for (let p = 0; p < values.length; p++) values[p] = rgba[p * 4];
      return createMask(width, height, values);
    },
    picture: (hash) =>
      pixelsOf(layerUrl(hash), null, 'A picture of this piece cannot be shown. Undo, or choose another.'),
    table: fetchTable,
    engine: fetchedTextEngine(),
  };
}

/**
 * The pixels of a picture, drawn to a size where it has another.
 * @param gone said where there is none, and the server says nothing.
 */
async function pixelsOf(
  url: string,
  size: { width: number; height: number } | null,
  gone: string,
): Promise<PixelFrame> {
  const response = await fetchWhole(url, gone);
  const bitmap = await createImageBitmap(await response.blob(), {
    colorSpaceConversion: 'none',
    premultiplyAlpha: 'none',
  });
  const { width, height } = size ?? bitmap;
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true });
  if (!context) throw new UserError('no_drawing', 'This browser cannot draw pictures.');
  context.imageSmoothingQuality = 'high';
  context.drawImage(bitmap, 0, 0, width, height);
  bitmap.close();
  const { data } = context.getImageData(0, 0, width, height);
  return createFrame(width, height, new Uint8Array(data.buffer));
}
