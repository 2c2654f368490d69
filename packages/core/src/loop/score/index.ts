export { findFlowLength } from './flow-length.js';
export { type ClosedReel, closedReel, type JointPlan, planJoint } from './joint-plan.js';
export {
  isWellLed,
  type JointFault,
  type JointScore,
  judgeRound,
  measureJoint,
  type NaturalSteps,
  proposedScore,
  turnOf,
} from './joint-score.js';
export { type MeasuredTake, measureClosing, measureReelSeam, NO_JOINT } from './reel-seam.js';
export type { ShownFrame } from './shown-frame.js';
export { isSmoothGood, measureSmoothness, type Smoothness } from './smoothness.js';
export { isUnnoticed, SEAM_VERDICTS, type SeamVerdict, seamVerdict } from './verdict.js';
