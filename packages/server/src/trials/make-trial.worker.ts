import { type MadeFile, type MakingProgress, type MakingTask, makeFile } from '../making/index.js';
import { toldWorker } from '../threads/index.js';

export default toldWorker<MakingTask, MakingProgress, MadeFile>((task, onProgress) =>
  makeFile(task, { onProgress }),
);
