import { createSeamWork, type SeamMessage } from './seam-work.js';

const work = createSeamWork(() => performance.now());

self.onmessage = ({ data }: MessageEvent<SeamMessage>) => {
  const answer = work(data);
  if (answer) self.postMessage(answer);
};
