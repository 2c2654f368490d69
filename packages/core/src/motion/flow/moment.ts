import { boxMean } from '../../pixels/index.js';
import type { LumaPicture } from '../luma-picture.js';
import type { FlowField } from './flow-field.js';
import { sharedLeading } from './leading.js';

/** Steps towards the fixed point of a field that is carried along by itself. */
const STEPS = 5;
/** Radius in which it is judged which of both fields fits, px; and of the mean that is taken at last. */
const FIT_RADIUS = 2;
const LAST_RADIUS = 1;
/** Difference of fit, levels, by which one field outweighs the other e-fold. */
const CLEAR = 1.5;

/**
 * The flow from one picture to another as it lies at a moment between them: a(x − t v) meets b(x + (1 − t) v).
 * Since it is asked from the moment's side, every pixel has an answer, and there are no holes.
 * @param forth flow from a to b; back from b to a.
 * @param moment t, 0–1.
 */
export function flowAtMoment(
  a: LumaPicture,
  b: LumaPicture,
  forth: FlowField,
  back: FlowField,
  moment: number,
): FlowField {
  const fromFirst = sharedLeading().carry(forth, moment, STEPS);
  const fromSecond = reversed(sharedLeading().carry(back, 1 - moment, STEPS));
  const [first, second] = [fromFirst, fromSecond].map((flow) => misfit(a, b, flow, moment));
  // Where both fit alike, the one whose picture is nearer counts more.
  const lean = 2 * (moment - 0.5);
  const share = first.map((error, p) => 1 / (1 + Math.exp((error - second[p]) / CLEAR + lean)));
  const between = (one: Float32Array, other: Float32Array) => {
    const mixed = new Float32Array(one.length);
    for (let p = 0; p < mixed.length; p++) mixed[p] = other[p] + share[p] * (one[p] - other[p]);
    return boxMean(mixed, a, LAST_RADIUS, 1);
  };
  const { width, height } = a;
  return {
    ...{ width, height },
    u: between(fromFirst.u, fromSecond.u),
    v: between(fromFirst.v, fromSecond.v),
  };
}

function reversed({ width, height, u, v }: FlowField): FlowField {
  return { width, height, u: u.map((value) => -value), v: v.map((value) => -value) };
}

/** Mean absolute difference around every place between what both pictures show there at the moment, levels. */
export function misfit(
  a: LumaPicture,
  b: LumaPicture,
  flow: FlowField,
  moment: number,
  radius = FIT_RADIUS,
): Float32Array<ArrayBuffer> {
  return boxMean(sharedLeading().apart(a, b, flow, moment), a, radius, 1);
}
