export {
  type ColourPixels,
  colourExactly,
  createColourPixels,
  createKernelColour,
  createPlainColour,
} from './apply-table.js';
export { type ColourTable, denseKnots, evenKnots, foldColours, TABLE_SIZE } from './colour-table.js';
export { type Cube, cubeFunction, MOST_CUBE_BYTES, readCube, writeCube } from './cube.js';
export { type Colour, type ColourFunction, type Grade, gradeFunction, NO_GRADE } from './grade.js';
export { LOOK_IDS, LOOKS, type Look, type LookId, lookFunction, lookOf } from './looks.js';
export {
  COLOUR_LIMITS,
  COLOUR_PARTS,
  type ColourFunctions,
  type ColourPart,
  type ColourSettings,
  colourFunctions,
  colourSchema,
  foldSettings,
  inTurn,
  keepsColours,
  OWN_COLOURS,
} from './settings.js';
export { sharpen } from './sharpen.js';
