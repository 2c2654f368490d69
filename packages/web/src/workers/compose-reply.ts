import type { PixelFrame } from '@muted-pond/core/pixels';
import type { ComposeAnswer } from './compose-work.js';
import { bitmapsOf, type ComposeReply, type LookPictures } from './composed-pictures.js';

/**
 * Pixels as bitmaps, which a canvas draws without copying them.
 * @returns the reply, and the bitmaps in it, which go over to the page.
 */
export async function toReply(
  answer: ComposeAnswer,
  toBitmap: (frame: PixelFrame) => Promise<ImageBitmap>,
): Promise<[ComposeReply, ImageBitmap[]]> {
  switch (answer.type) {
    case 'failed':
      return [answer, []];
    case 'held': {
      const { picture, masks } = answer.held;
      const held = {
        plate: await toBitmap(picture),
        masks: await Promise.all(masks.map((mask) => toBitmap({ ...mask, rgba: asAlpha(mask.values) }))),
      };
      return [{ type: 'held', plan: answer.plan, held }, [held.plate, ...held.masks]];
    }
    case 'looks': {
      const made = await Promise.all(
        Object.entries(answer.looks).map(async ([id, frame]) => [id, await toBitmap(frame)] as const),
      );
      const looks = Object.fromEntries(made) as LookPictures;
      return [{ ...answer, looks }, Object.values(looks)];
    }
    case 'composed': {
      const { plan, place, frame, blocks, layers } = answer;
      // The same pixels are one bitmap.
      const made = new Map<PixelFrame, ImageBitmap>();
      for (const one of [frame, ...(layers ? [layers.whole, ...layers.moving] : [])]) {
        if (!made.has(one)) made.set(one, await toBitmap(one));
      }
      const of = (one: PixelFrame) => made.get(one) as ImageBitmap;
      const pictures = {
        frame: of(frame),
        blocks,
        layers: layers && { whole: of(layers.whole), moving: layers.moving.map(of) },
      };
      return [{ type: 'composed', plan, place, pictures }, bitmapsOf(pictures)];
    }
  }
}

/** White, as much there as it moves. */
function asAlpha(values: Uint8Array): Uint8Array {
  const rgba = new Uint8Array(values.length * 4).fill(255);
  for (let p = 0; p < values.length; p++) rgba[p * 4 + 3] = values[p];
  return rgba;
}
