export { adviseJoin, GOOD_SEAM, type JoinAdvice } from './advice.js';
export { type CommonRound, findCommonRound, type Region } from './common-round.js';
export { blackFrames, nearDoubles } from './find-frames.js';
export { findSeams, type LoopLength, MOST_SEARCHED, seamWindow, USUAL_LOOP_LENGTH } from './find-seams.js';
export {
  type AnyJoin,
  type Crossfade,
  type Cut,
  framesMissing,
  JOIN_KINDS,
  JOINS,
  type JoinKind,
  type JoinSettings,
  joinOf,
  joinSchema,
  MOST_WOVEN,
  PLAIN_CUT,
  type ThereAndBack,
  WOVEN_LIMITS,
  WOVEN_ROOM,
  type Woven,
  type WovenTouch,
  wovenOver,
} from './joins/index.js';
export {
  type LoopReel,
  type LoopSettings,
  MOST_REEL_FRAMES,
  makeLoop,
  PLAIN_LOOP,
  REEL_WEAVE,
} from './loop-reel.js';
export { mixedWithOtherScenes } from './other-scenes.js';
export { type OwnRound, ownReel, ownScore, ownSpeed, ownWeave } from './own-round.js';
export { percentile } from './percentile.js';
export {
  type EditedReel,
  editReel,
  type FrameRef,
  type ReelEdit,
  type ReelEditKind,
  type ReelItem,
  refOf,
} from './reel-edits.js';
export { measureReelSeam, type ReelSeam } from './reel-seam.js';
export {
  type Blocks,
  type ClosedReel,
  closedReel,
  createMovementFinder,
  type JointFault,
  type JointPlan,
  type JointScore,
  type Look,
  type Looks,
  lookBytes,
  lookSize,
  type MovementFinder,
  measureJoint,
  planJoint,
  readLook,
  writeLook,
} from './score/index.js';
export { createSeamField, type SeamField, type SeamPlaces } from './seam-field.js';
export { seamScore } from './seam-score.js';
export { type SeamCandidate, type SeamLimits, searchSeams } from './seam-search.js';
export { FIRST_TAP, TAPS } from './taps.js';
