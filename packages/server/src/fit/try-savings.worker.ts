import type { Saving } from '@muted-pond/core/api';
import { type MakingProgress, type MakingTask, trySavings } from '../making/index.js';
import { progressWorker } from '../threads/index.js';

export default progressWorker<
  MakingTask,
  MakingProgress,
  { readonly bytes: number; readonly savings: readonly Saving[] }
>(trySavings);
