import { THREAD_ENDING } from '../processes/index.js';

export { CORES, coresForThisJob, shareCoresWith } from './cores.js';
export { collectEverywhere, helperThreads } from './helper-threads.js';
export { type JobMessage, type Outcome, type ProgressWorker, progressWorker } from './progress-worker.js';
export { threadCache } from './thread-cache.js';

/** The worker that does nothing but make its thread ready. */
export const WARM_UP_WORKER = new URL(`./warm-up.worker.${THREAD_ENDING}`, import.meta.url).href;
