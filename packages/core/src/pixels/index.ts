export { assertOneSize, createFrame, type PixelFrame, pixelWords } from './frame.js';
export { createResizer, type Resizer } from './resize.js';
export { type Size, sizeForWidth, sizeWithin } from './size.js';
export { LINEAR_FROM_SRGB8, LINEAR_MAX, linearToSrgb, SRGB8_FROM_LINEAR, srgbToLinear } from './srgb.js';
