import { boxMean } from '../../pixels/index.js';
import type { LumaPicture } from '../luma-picture.js';
import { type FlowField, warpByFlow } from './flow-field.js';
import type { Relaxation } from './relaxation.js';

export interface Refinement {
  /** Weight of smoothness. */
  readonly smoothness: number;
  /** Weight of equal brightness. */
  readonly brightness: number;
  /** Weight of equal gradients. */
  readonly gradients: number;
  /** How often the robust weights are worked out anew. */
  readonly rounds: number;
  /** Sweeps of over-relaxation in each round. */
  readonly sweeps: number;
}

/** Differences that change slowly over this radius are light, px; this share of them is no movement. */
const LIGHT = { radius: 7, share: 0.7 };
/** Smaller pictures are left as they are. */
const LEAST_SIDE = 3;

/**
 * The field moved to where brightness and gradients agree best and the field stays smooth: robust penalties of
 * all three; fixed points around successive over-relaxation.
 * Source: Brox, Bruhn, Papenberg and Weickert, ECCV 2004; the normalised data terms of Zimmer, Bruhn and
 * Weickert, IJCV 2011.
 * @param a and b of one size, which is the field's.
 * @param relaxation of that size too; what is in it is overwritten.
 */
export function refineFlow(
  a: LumaPicture,
  b: LumaPicture,
  flow: FlowField,
  how: Refinement,
  relaxation: Relaxation,
): FlowField {
  const { width, height } = a;
  if (width < LEAST_SIDE || height < LEAST_SIDE) return flow;
  const difference = relaxation.differentiate(a.values, warpByFlow(b, flow).values);
  relaxation.takeSlowOut(boxMean(difference, a, LIGHT.radius, 1), LIGHT.share);
  relaxation.begin(flow.u, flow.v);
  for (let round = 0; round < how.rounds; round++) {
    relaxation.weighSmoothness(how.smoothness);
    relaxation.weighData(how);
    for (let sweep = 0; sweep < how.sweeps; sweep++) relaxation.sweep();
  }
  return { width, height, u: relaxation.take('u'), v: relaxation.take('v') };
}
