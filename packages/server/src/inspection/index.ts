export { inspectFile, warmReader } from './inspect-file.js';
