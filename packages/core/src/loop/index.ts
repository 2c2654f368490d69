export {
  adviseJoin,
  firstGoodJoin,
  type JoinAdvice,
  type JoinCandidate,
  joinCandidates,
  type PacedSpan,
} from './advice.js';
export { type CommonPart, type CommonRound, findCommonRound, type Region } from './common-round.js';
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
export { type OwnRound, ownClosedReel, ownReel, ownSpeed, ownWeave } from './own-round.js';
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
export {
  type Blocks,
  type ClosedReel,
  closedReel,
  createLookStore,
  createMovementFinder,
  energyBetween,
  GHOST_BLOCK,
  isUnnoticed,
  type JointFault,
  type JointPlan,
  type JointScore,
  judgeRound,
  type Look,
  type LookShift,
  type LookStore,
  type Looks,
  lookBytes,
  lookSize,
  lookWeights,
  type MeasuredTake,
  type Movement,
  type MovementFinder,
  measureClosing,
  measureJoint,
  measureReelSeam,
  mixtureWeight,
  type NaturalSteps,
  NO_JOINT,
  type OwnChange,
  ownChange,
  type Places,
  planJoint,
  readLook,
  SEAM_VERDICTS,
  type SeamVerdict,
  type ShownFrame,
  STEP_BLOCK,
  seamVerdict,
  seenGhosts,
  shiftLook,
  turnOf,
  writeLook,
} from './score/index.js';
export { createSeamField, type SeamField, type SeamPlaces } from './seam-field.js';
export { seamScore } from './seam-score.js';
export { rescored, type SeamCandidate, type SeamLimits, searchSeams } from './seam-search.js';
export { FIRST_TAP, TAPS } from './taps.js';
