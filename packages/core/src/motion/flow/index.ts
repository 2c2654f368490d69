export { createFlowFinder, type FlowFinder, type FlowPicture, flowPicture } from './find-flow.js';
export { type FlowField, resizedField, warpByFlow } from './flow-field.js';
export { createInBetween, type InBetween } from './in-between.js';
export { gradientsOf } from './planes.js';
export { steadyFlows } from './steady-flows.js';
