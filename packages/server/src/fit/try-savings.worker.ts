import { type MakingProgress, type SavingsTask, type TriedSavings, trySavings } from '../making/index.js';
import { progressWorker } from '../threads/index.js';

export default progressWorker<SavingsTask, MakingProgress, TriedSavings>(trySavings);
