export { createFlowFinder, type FlowFinder, type FlowPicture, flowPicture } from './find-flow.js';
export { type FlowField, resizedField, warpByFlow } from './flow-field.js';
export { createInBetween, helpingFlow, type InBetween } from './in-between.js';
export { leadFrames } from './leading.js';
export { flowAtMoment } from './moment.js';
export { gradientsOf, resizedPlane } from './planes.js';
export { steadyFlows } from './steady-flows.js';
