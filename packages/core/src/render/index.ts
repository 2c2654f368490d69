export { type Compose, type Composition, composedSize, createCompose, decodeSize } from './compose.js';
export { type CrewWork, startWork } from './crew-jobs.js';
export { composeMask, createHoldStill, type HoldStill } from './hold-still.js';
export { joinFrames, sourcesOf } from './join-frames.js';
export {
  ENGINE_VERSION,
  type HeldStill,
  layersOf,
  loopOf,
  planRender,
  type RenderPlan,
} from './plan-render.js';
export {
  copyForCrew,
  type GifRendering,
  type RenderedGif,
  type RenderOptions,
  type RenderProgress,
  renderGif,
  startRendering,
} from './render-gif.js';
