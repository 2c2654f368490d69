import { LRUCache } from 'lru-cache';
import {
  createMovementFinder,
  type EndPair,
  type FlowJoint,
  lookBytes,
  lookSize,
  planFlowJoint,
  readLook,
  writeLook,
} from '../../loop/index.js';
import { createFlowFinder, leadFrames, lumaOf, resizedField, resizedPlane } from '../../motion/index.js';
import { createResizer, type PixelFrame, type Size, sizeWithin } from '../../pixels/index.js';
import type { LedPlace, TakeMoment } from '../../timing/index.js';

/** Joints that are kept: a reel has one, and a ripple with a loop of its own another. */
const MOST_KEPT = 4;

/** The longer side of the pictures in which flows are looked for: a share of the frame's, within limits, px. */
const FLOW_SIDE = { share: 2 / 3, least: 160, most: 320 };

/** Makes pictures of joints in which the end of a loop flows into its start. */
export interface LedJoints {
  picture(place: LedPlace): PixelFrame;
}

/**
 * @param size of the frames.
 * @param pictureOf a moment of the take, composed; what a joint is made of is at hand.
 */
export function createLedJoints(size: Size, pictureOf: (moment: TakeMoment) => PixelFrame): LedJoints {
  const joints = new LRUCache<string, FlowJoint>({ max: MOST_KEPT });
  const [looks, pictures] = [lookSize(size), flowSize(size)];
  const inSmall = createResizer(size, looks);
  const endOf = (moment: TakeMoment) => {
    const { rgba } = pictureOf(moment);
    const bytes = new Uint8Array(lookBytes(looks));
    writeLook(inSmall.resize({ ...size, rgba }).rgba, looks, bytes);
    return { look: readLook(bytes, looks), picture: lumaOf(rgba, size, pictures) };
  };
  const jointOf = ({ seconds, pairs }: LedPlace): FlowJoint => {
    const key = JSON.stringify([seconds, pairs]);
    const there = joints.get(key);
    if (there) return there;
    const ends = pairs.map((pair): EndPair => {
      const [from, to] = [endOf(pair.from), endOf(pair.to)];
      return { from: from.look, to: to.look, pictures: [from.picture, to.picture] };
    });
    const joint = planFlowJoint(
      { pairs: ends, seconds },
      createMovementFinder(looks),
      createFlowFinder(pictures),
    );
    joints.set(key, joint);
    return joint;
  };
  return {
    picture(place) {
      const { flow, moment, shares } = jointOf(place).frames[place.at];
      const { from, to } = place.pairs[place.at];
      const { width, height } = flow;
      const wide = resizedPlane({ width, height, values: shares }, size);
      return leadFrames(pictureOf(from), pictureOf(to), resizedField(flow, size), moment, wide);
    },
  };
}

function flowSize(size: Size): Size {
  const { share, least, most } = FLOW_SIDE;
  const side = Math.round(share * Math.max(size.width, size.height));
  return sizeWithin(size, Math.min(most, Math.max(least, side)));
}
