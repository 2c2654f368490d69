export { currentJob, type JobContext, runInContext, runOutsideJobs, Stopped } from './job-context.js';
