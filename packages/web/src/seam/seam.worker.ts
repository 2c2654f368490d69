import { createSeamWork, type SeamMessage } from './seam-work.js';

const work = createSeamWork(() => performance.now());

self.onmessage = ({ data }: MessageEvent<SeamMessage>) => {
  const reply = work(data);
  if (reply) self.postMessage(reply);
};
