import { helpingFlow, resizedPlane } from '../../motion/index.js';
import type { LedPlace, Reel, ReelFrame, TakeMoment } from '../../timing/index.js';
import { type FlowJoint, type LedFigures, ledLook, planFlowJoint } from '../flow-joint/index.js';
import { type Look, type Looks, type MovementFinder, mapLook } from '../looks/index.js';

/** Two pictures that shine through each other. */
export interface Mixed {
  readonly under: Look;
  readonly over: Look;
  /** How much of the second is seen, 0–1; by pixel where it is not the same everywhere. */
  readonly share: number | Float32Array;
}

/** One frame of a reel as it is seen. */
export interface ShownFrame {
  readonly look: Look;
  /** The two pictures that shine through each other; null where nothing is mixed. */
  readonly mixed: Mixed | null;
  readonly seconds: number;
}

/** Joints of one reel in which its end flows into its start, each planned once. */
type JointOf = (place: LedPlace) => FlowJoint | null;

/**
 * Some frames of a round, by their places in it, and what could be led where its end flows into its start.
 * @returns null where a frame of the take is not at hand.
 */
export function shownFrames(
  looks: Looks,
  finder: MovementFinder,
  round: Reel,
  places: readonly number[],
): { readonly frames: ReadonlyMap<number, ShownFrame>; readonly led: LedFigures | null } | null {
  const shown = new Map<number, ShownFrame>();
  const jointOf = jointsOf(looks, finder);
  for (const place of places) {
    const frame = shownFrame(looks, finder, jointOf, round[place]);
    if (!frame) return null;
    shown.set(place, frame);
  }
  const place = round.find(({ blend }) => blend?.led)?.blend?.led;
  return { frames: shown, led: place ? jointOf(place) : null };
}

function shownFrame(
  looks: Looks,
  finder: MovementFinder,
  jointOf: JointOf,
  pick: ReelFrame,
): ShownFrame | null {
  const { delayCs, blend } = pick;
  const seconds = delayCs / 100;
  if (blend?.led) return ledFrame(looks, finder, jointOf, blend.led, seconds);
  const under = lookOf(looks, finder, pick);
  if (!under) return null;
  if (!blend || blend.share === 0) return { look: under, mixed: null, seconds };
  const over = lookOf(looks, finder, blend);
  if (!over) return null;
  const { share } = blend;
  return { look: mixedLook(under, over, share), mixed: { under, over, share }, seconds };
}

/** A picture of a joint that flows; null where a frame of it is not at hand. */
function ledFrame(
  looks: Looks,
  finder: MovementFinder,
  jointOf: JointOf,
  place: LedPlace,
  seconds: number,
): ShownFrame | null {
  const joint = jointOf(place);
  if (!joint) return null;
  const { flow, moment, shares } = joint.frames[place.at];
  const pair = place.pairs[place.at];
  const [from, to] = [pair.from, pair.to].map((one) => lookOf(looks, finder, one) as Look);
  const [under, over] = [ledLook(from, flow, -moment), ledLook(to, flow, 1 - moment)];
  return { look: mixedLook(under, over, shares), mixed: { under, over, share: shares }, seconds };
}

/** The joint that a place belongs to, as it is led on looks; null where a frame of it is not at hand. */
function jointsOf(looks: Looks, finder: MovementFinder): JointOf {
  const planned = new Map<LedPlace['pairs'], FlowJoint | null>();
  return ({ seconds, pairs }) => {
    const there = planned.get(pairs);
    if (there !== undefined) return there;
    const ends = pairs.map(({ from, to }) => {
      const [one, other] = [from, to].map((moment) => lookOf(looks, finder, moment));
      return one && other && { from: one, to: other, pictures: [one.luma, other.luma] as const };
    });
    const known = ends.filter((end) => end !== null);
    const joint =
      known.length === ends.length ? planFlowJoint({ pairs: known, seconds }, finder, finder.flows) : null;
    planned.set(pairs, joint);
    return joint;
  };
}

/** Two looks mixed as they lie. @param share of the second, 0–1; by pixel of the luma where it differs. */
export function mixedLook(under: Look, over: Look, share: number | Float32Array): Look {
  if (typeof share === 'number') {
    return mapLook(under, (plane) =>
      under[plane].values.map((value, p) => value + share * (over[plane].values[p] - value)),
    );
  }
  const { width, height } = under.luma;
  const ofColour = resizedPlane({ width, height, values: share }, under.blue);
  return mapLook(under, (plane) => {
    const shares = plane === 'luma' ? share : ofColour;
    return under[plane].values.map((value, p) => value + shares[p] * (over[plane].values[p] - value));
  });
}

/** A frame of the take, or what is made between two. */
function lookOf(looks: Looks, finder: MovementFinder, { source, toward }: TakeMoment): Look | null {
  const from = looks.at(source);
  if (!from || !toward) return from;
  const to = looks.at(toward.source);
  return to && momentLook(finder, from, to, toward.moment);
}

/** What is made at a moment between two looks, 0–1, as it is between the frames they are of. */
export function momentLook(finder: MovementFinder, from: Look, to: Look, moment: number): Look {
  const [forth, back] = [finder.between(from, to).flow, finder.between(to, from).flow];
  const flow = helpingFlow(from.luma, to.luma, forth, back, moment);
  return mixedLook(ledLook(from, flow, -moment), ledLook(to, flow, 1 - moment), moment);
}
