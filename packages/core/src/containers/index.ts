export { type ApngFrame, apngFrameBytes, type PngColours, writeApng } from './apng.js';
export { type IsoTimes, retimeIsoFile } from './iso-boxes.js';
export { withMatroskaDuration } from './matroska.js';
export { filterRows, PNG_FILTERS, type PngFilter } from './png-filters.js';
export { readWebpFrames, type WebpAnimation, type WebpFrameChunk, writeWebp } from './webp.js';
