import { type FitTask, type FittedFile, fitFiles, type MakingProgress } from '../making/index.js';
import { toldWorker } from '../threads/index.js';

export default toldWorker<FitTask, MakingProgress, FittedFile[]>(fitFiles);
