export {
  createComposer,
  ENGINE_VERSION,
  planRender,
  type RenderedGif,
  type RenderPlan,
  type RenderProgress,
  renderGif,
} from './steps.js';
