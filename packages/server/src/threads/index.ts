export { collectNow } from './collect-garbage.js';
export { CORES, coresForThisJob, shareCoresWith } from './cores.js';
export { currentJob, type JobContext, Stopped } from './job-context.js';
export { type JobMessage, type Outcome, type ProgressWorker, progressWorker } from './progress-worker.js';
export { startThread, THREAD_ARGV, THREAD_ENDING } from './thread-files.js';
