import { type FitTask, type FittedFile, fitFiles, type MakingProgress } from '../making/index.js';
import { progressWorker } from '../threads/index.js';

export default progressWorker<FitTask, MakingProgress, FittedFile[]>(fitFiles);
