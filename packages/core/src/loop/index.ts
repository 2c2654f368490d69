export {
  adviseJoin,
  firstGoodJoin,
  type JoinAdvice,
  type JoinCandidate,
  type JoinJudge,
  joinCandidates,
  type PacedSpan,
} from './advice.js';
export { type CommonPart, type CommonRound, findCommonRound, type Region } from './common-round.js';
export { blackFrames, nearDoubles } from './find-frames.js';
export {
  findSeams,
  type LoopLength,
  MOST_SEARCHED,
  seamAt,
  seamWindow,
  USUAL_LOOP_LENGTH,
} from './find-seams.js';
export {
  type EndPair,
  type FlowJoint,
  type JointEnds,
  type LedFigures,
  type LedFrame,
  ledLook,
  planFlowJoint,
} from './flow-joint/index.js';
export { type FlowPlacesAsk, findFlowPlaces } from './flow-places.js';
export {
  type AnyJoin,
  type Crossfade,
  type Cut,
  type Flowed,
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
  type Blocks,
  createLookStore,
  createMovementFinder,
  energyBetween,
  GHOST_BLOCK,
  type Look,
  type LookShift,
  type LookStore,
  type Looks,
  lookBytes,
  lookSize,
  lookWeights,
  type Movement,
  type MovementFinder,
  mixtureWeight,
  type OwnChange,
  ownChange,
  type Places,
  readLook,
  STEP_BLOCK,
  seenGhosts,
  shiftLook,
  writeLook,
} from './looks/index.js';
export {
  type LoopReel,
  type LoopSettings,
  MOST_REEL_FRAMES,
  makeLoop,
  PLAIN_LOOP,
  REEL_WEAVE,
} from './loop-reel.js';
export { longestInScene, mixedWithOtherScenes } from './other-scenes.js';
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
  type ClosedReel,
  closedReel,
  findFlowLength,
  isSmoothGood,
  isUnnoticed,
  isWellLed,
  type JointFault,
  type JointPlan,
  type JointScore,
  judgeRound,
  type MeasuredTake,
  measureClosing,
  measureJoint,
  measureReelSeam,
  measureSmoothness,
  type NaturalSteps,
  NO_JOINT,
  planJoint,
  proposedScore,
  SEAM_VERDICTS,
  type SeamVerdict,
  type ShownFrame,
  type Smoothness,
  seamVerdict,
  turnOf,
} from './score/index.js';
export { createSeamField, type SeamField, type SeamPlaces } from './seam-field.js';
export { seamScore } from './seam-score.js';
export { isSameLoop, rescored, type SeamCandidate, type SeamLimits, searchSeams } from './seam-search.js';
export { FIRST_TAP, TAPS } from './taps.js';
