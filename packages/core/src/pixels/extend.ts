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
  let blurred = covered;
  for (let pass = 0; pass < 3; pass++) blurred = boxMean(boxMean(blurred, true), false);
  return createResizer(small, size).resize(blurred);
}

function boxMean({ width, height, rgba }: PixelFrame, isAcross: boolean): PixelFrame {
  const out = createFrame(width, height);
  const [lines, length] = isAcross ? [height, width] : [width, height];
  const [lineStep, step] = isAcross ? [width * 4, 4] : [4, width * 4];
  for (let line = 0; line < lines; line++) {
    for (let i = 0; i < length; i++) {
      for (let c = 0; c < 4; c++) {
        let sum = 0;
        for (let k = -RADIUS; k <= RADIUS; k++) {
          const at = Math.max(0, Math.min(length - 1, i + k));
          sum += rgba[line * lineStep + at * step + c];
        }
        out.rgba[line * lineStep + i * step + c] = Math.round(sum / (2 * RADIUS + 1));
      }
    }
  }
  return out;
}
