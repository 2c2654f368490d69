import { type FlowField, resizedField, warpByFlow } from '../../motion/index.js';
import type { Look } from '../looks/index.js';

/** A look led along a flow: out(x) = look(x + times · flow(x)). @param flow of the look's size. */
export function ledLook(look: Look, flow: FlowField, times: number): Look {
  const ofColour = resizedField(flow, look.blue);
  return {
    luma: warpByFlow(look.luma, flow, times),
    blue: warpByFlow(look.blue, ofColour, times),
    red: warpByFlow(look.red, ofColour, times),
  };
}
