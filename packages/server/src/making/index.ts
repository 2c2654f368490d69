export { type FitTask, type FittedFile, fitBelow, fitFiles } from './fit-files.js';
export { type MakingLayer, openFrameSource, readMask } from './frame-source.js';
export {
  encodeTask,
  type MadeFile,
  type MakingOptions,
  type MakingProgress,
  type MakingTask,
  makeFile,
  measureSeen,
  type SeenTask,
  type UnmeasuredFile,
} from './make-file.js';
export { type MakingFile, sourceFile } from './making-file.js';
export { mapFootage } from './map-footage.js';
export { MEASURED_SIDE, measureHolding, planHolding } from './measure-holding.js';

export { trySavings } from './try-savings.js';
