export type { Blocks } from './blocks.js';
export { type ClosedReel, closedReel, type JointPlan, planJoint } from './joint-plan.js';
export { type JointFault, type JointScore, measureJoint } from './joint-score.js';
export { type Look, type Looks, lookBytes, lookSize, readLook, writeLook } from './look.js';
export { createMovementFinder, type MovementFinder } from './movement.js';
