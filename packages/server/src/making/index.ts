export { type FitTask, type FittedFile, fitBelow, fitFiles } from './fit-files.js';
export {
  encodeTask,
  type MadeGif,
  type MakingOptions,
  type MakingProgress,
  type MakingTask,
  makeGif,
  measureSeen,
  type SeenTask,
  type UnmeasuredGif,
} from './make-gif.js';
export { type MakingFile, sourceFile } from './making-file.js';
export { mapFootage } from './map-footage.js';
export { measureHolding } from './measure-holding.js';
export { type MakingLayer, readMask } from './read-layers.js';
export { createSteadier } from './steady-frames.js';
export { trySavings } from './try-savings.js';
