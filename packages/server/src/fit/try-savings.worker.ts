import type { MakingProgress } from '../making/index.js';
import { progressWorker } from '../threads/index.js';
import { type SavingsTask, type TriedSavings, trySavings } from './try-savings.js';

export default progressWorker<SavingsTask, MakingProgress, TriedSavings>(trySavings);
