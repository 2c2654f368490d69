export { type Compose, type Composition, composedSize, createCompose, decodeSize } from './compose.js';
export { composeMask } from './compose-mask.js';
export type { DrawnOverlay } from './dress-assets.js';
export { type DecodedPicture, type FrameSource, NOTHING_KEPT, type TextEngine } from './frame-source.js';
export { type ParallelWork, startWork } from './parallel-work.js';
export {
  ENGINE_VERSION,
  type HeldStill,
  layersOf,
  loopOf,
  planRender,
  type RenderPlan,
  withPlaces,
} from './plan-render.js';
export { framesAt, framesOf, type ShownLayers, type StepsRun, startSteps, stepsKey } from './run-steps.js';
export {
  type ComposedPlate,
  type LightFigures,
  movingReels,
  type SteadyFigures,
  type StepFigures,
  sourcesOf,
} from './steps/index.js';
export { createTextEngine, drawnPixels, type FontShelf, type SvgLibrary } from './text-engine.js';
