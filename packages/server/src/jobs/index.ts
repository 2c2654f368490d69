export { PondEvents } from './events.js';
export { JobPool } from './job-pool.js';
export { JobsModule } from './jobs.module.js';
export { type JobKind, Jobs, type RunningJob } from './jobs.service.js';
export { type ChangeJob, type PieceJobKind, PieceJobs } from './piece-jobs.js';
export { nextRevision } from './revision.js';
export { runInThread } from './run-in-thread.js';
export { PRIORITY, type Priority, TaskQueue, WaitingTasks } from './task-queue.js';
export { type ThreadJobKind, ThreadJobs } from './thread-jobs.js';
