export { type Activity, measureActivity } from './activity.js';
export { type AlignedSignatures, alignSignatures, TAKEN_FIGURES } from './align-signatures.js';
export { type ActivitySeries, calmAt, calmestSpan, spanToRest } from './calm.js';
export { type FramePair, findCameraMask } from './camera-mask.js';
export { findCuts, scenesWithin, signatureOf, signaturesIn } from './cuts.js';
export {
  createFlowFinder,
  createInBetween,
  type FlowField,
  type FlowFinder,
  type FlowPicture,
  flowAtMoment,
  flowPicture,
  gradientsOf,
  helpingFlow,
  type InBetween,
  leadFrames,
  resizedField,
  resizedPlane,
  steadyFlows,
  warpByFlow,
} from './flow/index.js';
export { alignSize, CHROMA_SCALE, halved, type LumaPicture, lumaOf } from './luma-picture.js';
export { MOTION_FRAMES, type MotionMap, type MovingPart, mapMotion } from './motion-map.js';
export {
  type AlignTemplate,
  createAlignTemplate,
  IDENTITY,
  type Registration,
  type Similarity,
} from './register.js';
export { SIGMA_FROM_MEDIAN, TUKEY } from './robust.js';
export { SIGNATURE_BYTES, SIGNATURE_SIZE, signatureLuma, writeSignature } from './signature.js';
export { smoothstep } from './smoothstep.js';
export {
  createRegionTracker,
  type RegionTracker,
  type TrackedPlace,
  type TrackedRegion,
} from './track-region.js';
export { warpFrame, warpLuma } from './warp.js';
