export { openTextEngine, svgLibrary } from './engine.js';
export { isShippedFont, openShippedFont, readFace, shippedFaces } from './fonts.js';
