export { startThread, THREAD_ARGV, THREAD_ENDING } from './thread-files.js';
export { type Told, type ToldWorker, toldWorker } from './told-worker.js';
