import { type MadeFile, type MakingProgress, type MakingTask, makeFile } from '../making/index.js';
import { progressWorker } from '../threads/index.js';

export default progressWorker<MakingTask, MakingProgress, MadeFile>((task, onProgress) =>
  makeFile(task, { onProgress }),
);
