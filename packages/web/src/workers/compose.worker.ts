import type { PixelFrame } from '@muted-pond/core/pixels';
import { sentenceOf } from '../ui/sentence.js';
import { type ComposeAnswer, type ComposeMessage, createComposeWork } from './compose-work.js';
import { bitmapsOf, type ComposeReply, type LookPictures } from './composed-pictures.js';
import { fetchedSource } from './fetched-source.js';

let answered = Promise.resolve();

// In their order: what is held must be there before the first place that shows it.
const work = createComposeWork(fetchedSource(), (answer) => {
  answered = answered.then(() => send(answer));
});

self.onmessage = ({ data }: MessageEvent<ComposeMessage>) => work(data);

async function send(answer: ComposeAnswer): Promise<void> {
  try {
    const [reply, transfer] = await toReply(answer);
    self.postMessage(reply, { transfer });
  } catch (error) {
    // Without what is held, nothing can be shown: it counts as an end of this worker.
    if (answer.type === 'held') return reportError(error);
    const { plan, place } = answer;
    const reply: ComposeReply = { type: 'failed', plan, place, problem: sentenceOf(error) };
    self.postMessage(reply);
  }
}

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
