export { adviseWeave, type WeaveAdviceTask } from './advise-weave.js';
export { type FitTask, type FittedFile, fitBelow, fitFiles } from './fit-files.js';
export { type MakingLayer, openFrameSource, readMask } from './frame-source.js';
export {
  encodeTask,
  type MadeFile,
  type MakingOptions,
  type MakingProgress,
  makeFile,
  measureSeen,
  type SeenTask,
  type UnmeasuredFile,
} from './make-file.js';
export { type MakingFile, sourceFile } from './making-file.js';
export type { MakingTask } from './making-task.js';
export { mapFootage } from './map-footage.js';
export { openMeasuredTake } from './measured-take.js';
export { missingKinds } from './missing-kinds.js';
export { picturesOf, type ReadingTask } from './read-file.js';
export { type WovenParts, weaveRecipe } from './weaves.js';
