import { boxMean, type PixelFrame, type Size, sizeWithin } from '../../pixels/index.js';
import { type LumaPicture, lumaOf } from '../luma-picture.js';
import { createFlowFinder, flowPicture } from './find-flow.js';
import { type FlowField, resizedField, stillField } from './flow-field.js';
import { leadFrames } from './lead-frames.js';
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

/** Makes pictures between two that follow each other. */
export interface InBetween {
  /**
   * What is seen at some moments between two frames, 0 the first and 1 the second: things are led along their
   * flow; where no flow explains what changes, both frames are mixed as they lie.
   */
  frames(a: PixelFrame, b: PixelFrame, moments: readonly number[]): PixelFrame[];
}

/** @param size of the frames, from 1 × 1 px on. */
export function createInBetween(size: Size): InBetween {
  const small = sizeWithin(size, FLOW_SIDE);
  const finder = createFlowFinder(small);
  return {
    frames(a, b, moments) {
      const [one, other] = [a, b].map(({ rgba }) => lumaOf(rgba, size, small));
      const [first, second] = [one, other].map(flowPicture);
      const forth = finder.between(first, second);
      const back = finder.between(second, first);
      return moments.map((moment) => {
        const flow = helpingFlow(one, other, flowAtMoment(one, other, forth, back, moment), moment);
        return leadFrames(a, b, resizedField(flow, size), moment);
      });
    },
  };
}

/** The flow, faded out where it does not bring both pictures nearer to each other. */
function helpingFlow(a: LumaPicture, b: LumaPicture, flow: FlowField, moment: number): FlowField {
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

function smoothstep(from: number, to: number, value: number): number {
  const t = Math.max(0, Math.min(1, (value - from) / (to - from)));
  return t * t * (3 - 2 * t);
}
