export { type Compose, type Composition, composedSize, createCompose, decodeSize } from './compose.js';
export { composeMask } from './compose-mask.js';
export type { DrawnOverlay } from './dress-assets.js';
export { type DecodedPicture, type FrameSource, NOTHING_KEPT, type TextEngine } from './frame-source.js';
export { HOLDING_SIDE, holdingKey, planHolding } from './holding.js';
export { idleVeils } from './idle-veils.js';
export {
  ENGINE_VERSION,
  type HeldStill,
  layersOf,
  loopOf,
  type PlanOptions,
  planRender,
  type RenderPlan,
  type Weaves,
  withPlaces,
} from './plan-render.js';
export { composedKey, framesAt, framesOf, type ShownLayers, type StepsRun, startSteps } from './run-steps.js';
export {
  type ComposedPlate,
  type LightFigures,
  movingReels,
  type SteadyFigures,
  type StepFigures,
  sourcesOf,
} from './steps/index.js';
export { createTextEngine, drawnPixels, type FontShelf, type SvgLibrary } from './text-engine.js';
export { adviceSpan, type WeaveAdviceAsk, weaveAdviceKey, weaveWish } from './weave-advice.js';
export {
  type LookedAtTake,
  lookAtTake,
  lookKey,
  planWeaving,
  type WeaveWish,
  type WovenPart,
  type WovenSeam,
  weaveKey,
  weavingKey,
  wishedWeaves,
  wovenPart,
} from './weaving.js';
