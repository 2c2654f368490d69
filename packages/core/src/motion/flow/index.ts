export { createFlowFinder, type FlowFinder, type FlowPicture, flowPicture } from './find-flow.js';
export { type FlowField, warpByFlow } from './flow-field.js';
