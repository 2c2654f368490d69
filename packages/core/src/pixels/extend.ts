import { boxBlur } from './box-blur.js';
import { createFrame, type PixelFrame } from './frame.js';
import { createResizer } from './resize.js';
import { type Size, sizeWithin } from './size.js';

/** Longer side in which the ground is blurred, px: it is a blur anyway. */
const SMALL_SIDE = 64;
/** Of the blur, px of the small picture. */
const RADIUS = 3;

/**
 * A ground of some size made of a picture: the picture covers it, blurred until nothing in it can be made out.
 */
export function blurredGround(picture: PixelFrame, size: Size): PixelFrame {
  const small = sizeWithin(size, SMALL_SIDE);
  const scale = Math.max(size.width / picture.width, size.height / picture.height);
  const seen = {
    width: Math.min(picture.width, size.width / scale),
    height: Math.min(picture.height, size.height / scale),
  };
  const window = { x: (picture.width - seen.width) / 2, y: (picture.height - seen.height) / 2, ...seen };
  const covered = createResizer(picture, small, window).resize(picture);
  const blurred = boxBlur(Float32Array.from(covered.rgba), small, RADIUS);
  const rounded = createFrame(small.width, small.height, Uint8Array.from(blurred, Math.round));
  return createResizer(small, size).resize(rounded);
}
