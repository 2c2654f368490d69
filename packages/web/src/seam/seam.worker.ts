import { footagePath } from '@muted-pond/core/identity';
import { fetchBytes } from '../api/client.js';
import { createSeamWork, type SeamMessage } from './seam-work.js';

const work = createSeamWork(
  () => performance.now(),
  (footage) => async (from, to) =>
    new Uint8Array(await fetchBytes(`footage/${footagePath(footage, 'looks', from, to)}`)),
);

self.onmessage = ({ data }: MessageEvent<SeamMessage>) => {
  work(data, (reply) => self.postMessage(reply)).catch((error: unknown) => {
    // Outside of the promise, so that the page is told that this worker failed.
    setTimeout(() => {
      throw error;
    });
  });
};
