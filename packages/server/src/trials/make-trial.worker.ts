import { type MadeGif, type MakingProgress, type MakingTask, makeGif } from '../making/index.js';
import { toldWorker } from '../threads/index.js';

export default toldWorker<MakingTask, MakingProgress, MadeGif>((task, onProgress) =>
  makeGif(task, { onProgress }),
);
