export { type FitTask, type FittedFile, fitBelow, fitFiles } from './fit-files.js';
export { type MakingLayer, openFrameSource, readMask } from './frame-source.js';
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
export { MEASURED_SIDE, measureHolding, planHolding } from './measure-holding.js';

export { trySavings } from './try-savings.js';
