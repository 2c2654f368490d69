export { PondEvents } from './events.js';
export { type ChangeJob, type JobView, PieceJobs } from './piece-jobs.js';
export { runTold } from './told-job.js';
export { Turns } from './turns.js';
export { WorkModule } from './work.module.js';
export { WorkerPool } from './worker-pool.js';
