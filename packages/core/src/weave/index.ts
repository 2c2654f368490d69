export { FREED, HELD, LEFT_OPEN, type WeaveWishes } from './cell-problem.js';
export { FAIR_WEAVE, findLengths, GOOD_WEAVE, type LengthEnergy } from './find-length.js';
export { type JointFigures, jointFigures, weaveFigures } from './joint-figures.js';
export {
  jointSpread,
  livingPart,
  type MadeWeave,
  makeWeave,
  type RoundTables,
  tablesOf,
} from './make-weave.js';
export { createPlanes, cutPlanes, type Planes, putFrame } from './planes.js';
export { choosePlateFrame } from './statistics.js';
export { cellFrames, STILL, type Weave, weaveFrames, weaveShares } from './weave.js';
export { measureWeave } from './woven-seam.js';
export { lookAtCells, type WovenTake } from './woven-take.js';
