export { type ParallelWork, startWork } from './parallel-work.js';
