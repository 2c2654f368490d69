import type { PixelFrame } from '@muted-pond/core/pixels';
import { sentenceOf } from '../ui/sentence.js';
import { toReply } from './compose-reply.js';
import { type ComposeAnswer, type ComposeMessage, createComposeWork } from './compose-work.js';
import type { ComposeReply } from './composed-pictures.js';
import { fetchedSource } from './fetched-source.js';

let answered = Promise.resolve();

// In their order: what is held must be there before the first place that shows it.
const work = createComposeWork(fetchedSource(), (answer) => {
  answered = answered.then(() => send(answer));
});

self.onmessage = ({ data }: MessageEvent<ComposeMessage>) => work(data);

async function send(answer: ComposeAnswer): Promise<void> {
  try {
    const [reply, transfer] = await toReply(answer, toBitmap);
    self.postMessage(reply, { transfer });
  } catch (error) {
    // Without what is held, nothing can be shown: it counts as an end of this worker.
    if (answer.type === 'held') return reportError(error);
    const { plan, place } = answer;
    const reply: ComposeReply = { type: 'failed', plan, place, problem: sentenceOf(error) };
    self.postMessage(reply);
  }
}

function toBitmap({ width, height, rgba }: PixelFrame): Promise<ImageBitmap> {
  const pixels = new Uint8ClampedArray(rgba.buffer as ArrayBuffer, rgba.byteOffset, rgba.length);
  return createImageBitmap(new ImageData(pixels, width, height));
}
