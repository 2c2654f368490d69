export { PondEvents } from './events.js';
export { runTold } from './told-job.js';
export { Turns } from './turns.js';
export { WorkModule } from './work.module.js';
export { WorkerPool } from './worker-pool.js';
