export type { EndPair, JointEnds } from './ends.js';
export { type FlowJoint, type LedFigures, type LedFrame, planFlowJoint } from './flow-joint.js';
export { ledLook } from './led-look.js';
