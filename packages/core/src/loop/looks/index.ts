export { type Blocks, blockMeans, meanOfLargest } from './blocks.js';
export { energyBetween, gradientEnergy } from './gradient-energy.js';
export {
  type Look,
  type Looks,
  lookBytes,
  lookSize,
  mapLook,
  readLook,
  shiftLook,
  writeLook,
} from './look.js';
export { createLookStore, type LookShift, type LookStore } from './look-store.js';
export { lookWeights, type Places } from './look-weights.js';
export {
  changeOfMovement,
  createMovementFinder,
  distances,
  type Movement,
  type MovementFinder,
  STEP_BLOCK,
  speedOf,
} from './movement.js';
export { GHOST_BLOCK, type Moment, type OwnChange, ownChange } from './own-change.js';
export { mixtureWeight, seenGhosts } from './seen-ghosts.js';
