export {
  createComposer,
  ENGINE_VERSION,
  planRender,
  type RenderedGif,
  type RenderPlan,
  type RenderProgress,
  renderGif,
  settleTolerance,
} from './steps.js';
