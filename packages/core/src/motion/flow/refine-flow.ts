import type { LumaPicture } from '../luma-picture.js';
import { type FlowField, warpByFlow } from './flow-field.js';
import { boxMean, gradientsOf } from './planes.js';
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
  putDifferences(relaxation, a, warpByFlow(b, flow));
  relaxation.put('startU', flow.u);
  relaxation.put('startV', flow.v);
  relaxation.put('u', flow.u);
  relaxation.put('v', flow.v);
  for (let round = 0; round < how.rounds; round++) {
    relaxation.weighSmoothness(how.smoothness);
    relaxation.weighData(how);
    for (let sweep = 0; sweep < how.sweeps; sweep++) relaxation.sweep();
  }
  return { width, height, u: relaxation.take('u'), v: relaxation.take('v') };
}

/** Derivatives of two pictures that lie nearly on each other. */
function putDifferences(relaxation: Relaxation, a: LumaPicture, warped: LumaPicture): void {
  const { width, height } = a;
  const middle = new Float32Array(a.values.length);
  const difference = new Float32Array(a.values.length);
  for (let p = 0; p < middle.length; p++) {
    middle[p] = 0.5 * (a.values[p] + warped.values[p]);
    difference[p] = warped.values[p] - a.values[p];
  }
  const first = gradientsOf({ width, height, values: middle });
  const ofAcross = gradientsOf({ width, height, values: first.across });
  const ofDown = gradientsOf({ width, height, values: first.down });
  const change = gradientsOf({ width, height, values: difference });
  const slow = boxMean({ width, height, values: difference }, LIGHT.radius);
  relaxation.put('across', first.across);
  relaxation.put('down', first.down);
  relaxation.put('acrossAcross', ofAcross.across);
  relaxation.put('acrossDown', ofAcross.down);
  relaxation.put('downDown', ofDown.down);
  relaxation.put(
    'brightness',
    difference.map((value, p) => value - LIGHT.share * slow[p]),
  );
  relaxation.put('acrossChange', change.across);
  relaxation.put('downChange', change.down);
}
