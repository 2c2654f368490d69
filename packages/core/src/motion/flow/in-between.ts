import { boxMean, type PixelFrame, type Size, sizeWithin } from '../../pixels/index.js';
import { type LumaPicture, lumaOf } from '../luma-picture.js';
import { smoothstep } from '../smoothstep.js';
import { createFlowFinder, flowPicture } from './find-flow.js';
import { type FlowField, resizedField, stillField } from './flow-field.js';
import { sharedLeading } from './leading.js';
import { flowAtMoment, misfit } from './moment.js';

/** The longer side of the pictures in which the flow is looked for, px. */
const FLOW_SIDE = 480;
/** Radius in which it is judged whether the flow helps, px; and of what softens the answer. */
const JUDGED_RADIUS = 3;
const SOFT_RADIUS = 4;
/** What is left, led by the flow, against what is left without it: below the first it is used, above the second not. */
const HELPS = [0.6, 0.9] as const;
/** Added to both, levels: what is hardly seen. */
const UNSEEN = 0.5;

/** Makes pictures between two that follow each other. What is known of the pair that was last asked for is kept. */
export interface InBetween {
  /**
   * What is seen at a moment between two frames, 0 the first and 1 the second: things are led along their flow; where
   * no flow explains what changes, both frames are mixed as they lie.
   */
  frame(a: PixelFrame, b: PixelFrame, moment: number): PixelFrame;
}

/** Two frames in small, and where everything goes from one to the other. */
interface KnownPair {
  readonly frames: readonly [PixelFrame, PixelFrame];
  readonly small: readonly [LumaPicture, LumaPicture];
  readonly forth: FlowField;
  readonly back: FlowField;
}

/** @param size of the frames, from 1 × 1 px on. */
export function createInBetween(size: Size): InBetween {
  const small = sizeWithin(size, FLOW_SIDE);
  const finder = createFlowFinder(small);
  let known: KnownPair | null = null;
  const pairOf = (a: PixelFrame, b: PixelFrame): KnownPair => {
    if (known?.frames[0] === a && known.frames[1] === b) return known;
    const one = lumaOf(a.rgba, size, small);
    const other = lumaOf(b.rgba, size, small);
    const [first, second] = [flowPicture(one), flowPicture(other)];
    known = {
      frames: [a, b],
      small: [one, other],
      forth: finder.between(first, second),
      back: finder.between(second, first),
    };
    return known;
  };
  return {
    frame(a, b, moment) {
      for (const { width, height } of [a, b]) {
        if (width === size.width && height === size.height) continue;
        throw new RangeError(`The frames must be of ${size.width} × ${size.height} px.`);
      }
      const { small: pictures, forth, back } = pairOf(a, b);
      const flow = helpingFlow(...pictures, forth, back, moment);
      const shares = new Float32Array(size.width * size.height).fill(moment);
      return sharedLeading().lead(a, b, resizedField(flow, size), moment, shares);
    },
  };
}

/**
 * The flow between two pictures as it lies at a moment, faded out where it does not bring them nearer to each other.
 * @param forth flow from a to b; back from b to a.
 */
export function helpingFlow(
  a: LumaPicture,
  b: LumaPicture,
  forth: FlowField,
  back: FlowField,
  moment: number,
): FlowField {
  const flow = flowAtMoment(a, b, forth, back, moment);
  const { width, height } = flow;
  const led = misfit(a, b, flow, moment, JUDGED_RADIUS);
  const still = misfit(a, b, stillField(flow), moment, JUDGED_RADIUS);
  const kept = boxMean(
    led.map((left, p) => 1 - smoothstep(...HELPS, (left + UNSEEN) / (still[p] + UNSEEN))),
    flow,
    SOFT_RADIUS,
    1,
  );
  return {
    width,
    height,
    u: flow.u.map((value, p) => value * kept[p]),
    v: flow.v.map((value, p) => value * kept[p]),
  };
}
