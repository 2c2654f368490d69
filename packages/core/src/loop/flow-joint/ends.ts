import type { LumaPicture } from '../../motion/index.js';
import type { Look } from '../looks/index.js';

/** Two frames of a joint that are seen at the same place of the reel: the end of the loop, and what runs into its start. */
export interface EndPair {
  readonly from: Look;
  readonly to: Look;
  /** The same in the size in which the flow is looked for: not smaller than the looks. */
  readonly pictures: readonly [from: LumaPicture, to: LumaPicture];
}

/** A joint that is to flow. */
export interface JointEnds {
  /** In the order in which they are shown; one at least, all of one size. */
  readonly pairs: readonly EndPair[];
  /** How long each is shown, seconds. */
  readonly seconds: number;
}
