import type { PixelFrame } from '@muted-pond/core/pixels';
import { sentenceOf } from '../ui/sentence.js';
import { type ComposeAnswer, type ComposeMessage, createComposeWork } from './compose-work.js';
import { bitmapsOf, type ComposeReply } from './composed-pictures.js';
import { fetchedSource } from './fetched-source.js';

const work = createComposeWork(fetchedSource(), (answer) => {
  toReply(answer).then(
    ([reply, transfer]) => self.postMessage(reply, { transfer }),
    (error: Error) => {
      const { plan } = answer;
      if (answer.type === 'held') throw error;
      self.postMessage({
        type: 'failed',
        plan,
        place: answer.place,
        problem: sentenceOf(error),
      } as ComposeReply);
    },
  );
});

self.onmessage = ({ data }: MessageEvent<ComposeMessage>) => work(data);

/** Pixels as bitmaps, which a canvas draws without copying them. */
async function toReply(answer: ComposeAnswer): Promise<[ComposeReply, ImageBitmap[]]> {
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
    case 'composed': {
      const { plan, place, frame, layers } = answer;
      // The same pixels are one bitmap.
      const made = new Map<PixelFrame, ImageBitmap>();
      for (const one of [frame, ...(layers ? [layers.whole, ...layers.moving] : [])]) {
        if (!made.has(one)) made.set(one, await toBitmap(one));
      }
      const of = (one: PixelFrame) => made.get(one) as ImageBitmap;
      const pictures = {
        frame: of(frame),
        layers: layers && { whole: of(layers.whole), moving: layers.moving.map(of) },
      };
      return [{ type: 'composed', plan, place, pictures }, bitmapsOf(pictures)];
    }
  }
}

function toBitmap({ width, height, rgba }: PixelFrame): Promise<ImageBitmap> {
  const pixels = new Uint8ClampedArray(rgba.buffer as ArrayBuffer, rgba.byteOffset, rgba.length);
  return createImageBitmap(new ImageData(pixels, width, height));
}

/** White, as much there as it moves. */
function asAlpha(values: Uint8Array): Uint8Array {
  const rgba = new Uint8Array(values.length * 4).fill(255);
  for (let p = 0; p < values.length; p++) rgba[p * 4 + 3] = values[p];
  return rgba;
}
