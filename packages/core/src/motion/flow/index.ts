export { type FlowPicture, flowBetween, flowPicture } from './flow-between.js';
export { type FlowField, warpByFlow } from './flow-field.js';
