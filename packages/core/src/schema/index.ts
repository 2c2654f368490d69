export { type Bounds, real, whole } from './bounds.js';
export { type HexColour, hashText, hexColour, idText, nameText } from './texts.js';
