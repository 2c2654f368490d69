import { createFrame } from '../pixels/index.js';
import type { Mask } from '../still/index.js';
import { type Composition, createCompose } from './compose.js';

/** A mask of the take's shape, framed and sized as the frames are. What lies beside the picture is held. */
export function composeMask(mask: Mask, composition: Composition): Mask {
  const { canvas } = composition;
  const whole = { x: 0, y: 0, ...canvas };
  const { framing } = composition;
  const box = framing.box && { ...framing.box, matte: 'transparent' as const, blurred: false };
  const compose = createCompose(mask, {
    ...composition,
    placement: whole,
    matte: 'transparent',
    framing: { ...framing, box },
  });
  // Carried as alpha, which is resampled as it is; colours would be taken for light.
  const carried = createFrame(mask.width, mask.height);
  for (let p = 0, i = 0; p < mask.values.length; p++, i += 4) {
    carried.rgba[i] = carried.rgba[i + 1] = carried.rgba[i + 2] = 255;
    carried.rgba[i + 3] = mask.values[p];
  }
  const { width, height, rgba } = compose(carried);
  const values = new Uint8Array(width * height);
  for (let p = 0; p < values.length; p++) values[p] = rgba[p * 4 + 3];
  return { width, height, values };
}
