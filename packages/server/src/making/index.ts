export { type MadeGif, type MakingProgress, type MakingTask, makeGif } from './make-gif.js';
