export { type Bounds, real, whole } from './bounds.js';
export { forbiddenKey } from './plain-keys.js';
export { plainLine, withinBytes } from './plain-line.js';
export { type HexColour, hashText, hexColour, idText, lineText, nameText } from './texts.js';
