import { createInBetween, type InBetween } from '../../motion/index.js';
import type { PixelFrame, Size } from '../../pixels/index.js';
import type { LedPlace, TakeMoment } from '../../timing/index.js';
import { createLedJoints, type LedJoints } from './led-joints.js';

/** Pictures that are led along a flow. What was found out for them is kept as long as this is. */
export interface MadePictures {
  /** A frame of the take, or a picture that is made between two. */
  moment(moment: TakeMoment): PixelFrame;
  /** A picture of a joint that flows. */
  led(place: LedPlace): PixelFrame;
}

/**
 * @param size of the frames.
 * @param take a frame of the take, composed.
 */
export function createMadePictures(size: Size, take: (frame: number) => PixelFrame): MadePictures {
  let inBetween: InBetween | null = null;
  let joints: LedJoints | null = null;
  const moment = ({ source, toward }: TakeMoment): PixelFrame => {
    if (!toward) return take(source);
    inBetween ??= createInBetween(size);
    return inBetween.frame(take(source), take(toward.source), toward.moment);
  };
  return {
    moment,
    led(place) {
      joints ??= createLedJoints(size, moment);
      return joints.picture(place);
    },
  };
}
