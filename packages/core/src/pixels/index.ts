export { boxBlur, boxMean } from './box-blur.js';
export { blurredGround } from './extend.js';
export { assertOneSize, createFrame, isOpaque, type PixelFrame, pixelWords } from './frame.js';
export { growKernel, type KernelMemory, startKernel } from './kernel-host.js';
export { layOnGrey } from './lay-on-grey.js';
export { hardenEdges, layOnMatte, MATTE_PATTERN, type Matte, matteBytes } from './matte.js';
export { mixFrames, type ShareMap } from './mix.js';
export {
  BLUE_SCALE,
  colourDistance,
  darkestFirst,
  fromOpponent,
  LUMA,
  NO_DIFFERENCE,
  type Opponent,
  RED_SCALE,
  type Rgb,
  toOpponent,
} from './opponent.js';
export {
  FIT_NAMES,
  type Fit,
  type Focus,
  largestOfShape,
  MIDDLE,
  placePicture,
} from './placement.js';
export { fitRect, intersect, type Rect } from './rect.js';
export { createPlainResizer, createResizer, cubicKernel, type Resizer } from './resize.js';
export { showAt } from './show-at.js';
export { type Size, sizeForWidth, sizeWithin } from './size.js';
export { LINEAR_FROM_SRGB8, LINEAR_MAX, linearToSrgb, SRGB8_FROM_LINEAR, srgbToLinear } from './srgb.js';
export {
  copyToShared,
  type ParallelJob,
  SINGLE_THREAD,
  type StartJob,
  type ThreadPool,
} from './thread-pool.js';
export { TURNS, type Turn, turnedSize, turnFrame, turnRect, turnRectBack } from './turn.js';
