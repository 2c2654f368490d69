import { createFrame, type PixelFrame } from '../pixels/index.js';
import { createEvenLight, joinMasks, layRipples, type Mask } from '../still/index.js';
import { type Composition, createCompose } from './compose.js';

/** The part of the steps that holds the picture: made once for a reel. */
export interface HoldStill {
  /** Before frames are joined: brightness as the plate's along the edges of all that moves. */
  light(frame: PixelFrame): PixelFrame;
  /** After frames are joined: the plate where nothing moves. @param frames what each layer shows. */
  hold(frames: readonly PixelFrame[]): PixelFrame;
}

/**
 * @param plate and masks as they were composed.
 * @param masks one a layer, the lowest first.
 */
export function createHoldStill(plate: PixelFrame, masks: readonly Mask[], evenLight: boolean): HoldStill {
  const even =
    evenLight && masks.length > 0
      ? createEvenLight(
          plate,
          masks.reduce((all, mask) => joinMasks(all, mask)),
        )
      : null;
  return {
    light: (frame) => even?.apply(frame) ?? frame,
    hold: (frames) => masks.reduce((held, mask, i) => layRipples(held, frames[i], mask), plate),
  };
}

/** A mask of the take's shape, framed and sized as the frames are. What lies beside the picture is held. */
export function composeMask(mask: Mask, composition: Composition): Mask {
  const { canvas } = composition;
  const whole = { x: 0, y: 0, ...canvas };
  const { framing } = composition;
  const box = framing.box && { ...framing.box, matte: 'transparent' as const };
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
  return { width, height, values: Uint8Array.from({ length: width * height }, (_, p) => rgba[p * 4 + 3]) };
}
