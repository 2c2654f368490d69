export type { Blocks } from './blocks.js';
export { mixtureWeight, seenGhosts } from './ghosts.js';
export { energyBetween } from './gradient-energy.js';
export { type ClosedReel, closedReel, type JointPlan, planJoint } from './joint-plan.js';
export {
  type JointFault,
  type JointScore,
  judgeRound,
  measureJoint,
  type NaturalSteps,
  turnOf,
} from './joint-score.js';
export { type Look, type Looks, lookBytes, lookSize, readLook, shiftLook, writeLook } from './look.js';
export { createLookStore, type LookShift, type LookStore } from './look-store.js';
export { lookWeights, type Places } from './look-weights.js';
export { createMovementFinder, type Movement, type MovementFinder, STEP_BLOCK } from './movement.js';
export { GHOST_BLOCK, type OwnChange, ownChange } from './own-change.js';
export { type MeasuredTake, measureClosing, measureReelSeam, NO_JOINT } from './reel-seam.js';
export type { ShownFrame } from './shown-frame.js';
export { isUnnoticed, SEAM_VERDICTS, type SeamVerdict, seamVerdict } from './verdict.js';
