export { type Brush, beginStroke, type Stroke, type StrokePoint } from './brush.js';
export { type CalmStretch, findCalmStretch } from './calm-stretch.js';
export { layRipples } from './composite.js';
export { signedDistance } from './distance.js';
export { type ChannelLight, createEvenLight, type EvenLight } from './even-light.js';
export {
  createMask,
  cutMask,
  invertMask,
  joinMasks,
  LONGEST_MASK_SIDE,
  type Mask,
  movingShare,
  resizeMask,
} from './mask.js';
export { type MovingLayer, movingLayers } from './moving-layers.js';
export { flattenOutline, type Outline, type OutlinePoint, rasterOutline } from './outline.js';
export { choosePlate, type PlateChoice, type PlateChoices } from './plate-choice.js';
export { type MovingParts, PROPOSED_EDGE, partAt, partMask, proposedMasks } from './propose.js';
export { featherMask, growMask, type Refinement, refineMask } from './refine.js';
export {
  maskInputs,
  movingMask,
  NOTHING_HELD,
  type Plate,
  type Ripple,
  rippleMask,
  type StillSettings,
  stillHashes,
} from './ripple.js';
