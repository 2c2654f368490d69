export { fileInputs, fileKey } from './file.js';
export { loopInputs, loopKey } from './loop.js';
export { type SeamAsk, seamsKey } from './seams.js';
export { stagePlanKey } from './stage-plan.js';
