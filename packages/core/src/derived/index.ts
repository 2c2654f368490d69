export { composedKey, holdingKey, lookKey, weaveAdviceKey, weaveKey, weavingKey } from '../render/index.js';
export { fileInputs, fileKey } from './file.js';
export { fitKey } from './fit.js';
export { type FollowedRegion, followingKey } from './following.js';
export { kindsKey } from './kinds.js';
export { loopInputs, loopKey } from './loop.js';
export { SAVING_FAMILIES, type SavingFamily, savingsKey } from './savings.js';
export { type SeamAsk, seamsKey } from './seams.js';
export { stagePlanKey } from './stage-plan.js';
