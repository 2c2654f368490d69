export { type IsolatedOptions, IsolatedProcess } from './isolated-process.js';
export { serveRequests } from './serve-requests.js';
export { spawnWatched, type WatchedOptions } from './spawn-watched.js';
export { startThread, THREAD_ARGV, THREAD_ENDING } from './thread-files.js';
