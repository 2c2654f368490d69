export { type ApngFrame, apngFrameBytes, type PngColours, writeApng } from './apng.js';
export { type IsoTimes, retimeIsoFile } from './iso-boxes.js';
export { withMatroskaDuration } from './matroska.js';
export { filterRows, PNG_FILTERS, type PngFilter } from './png-filters.js';
export {
  readWebp,
  readWebpFrames,
  stillWebp,
  type WebpAnimation,
  type WebpFrameChunk,
  type WebpFramePlace,
  webpFramePlace,
  writeWebp,
} from './webp.js';
export { createWebpCanvas, type WebpCanvas } from './webp-canvas.js';
