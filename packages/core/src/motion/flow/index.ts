export { createFlowFinder, type FlowFinder, type FlowPicture, flowPicture } from './find-flow.js';
export { type FlowField, resizedField, warpByFlow } from './flow-field.js';
