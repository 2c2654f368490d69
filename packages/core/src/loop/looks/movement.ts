import {
  createFlowFinder,
  type FlowField,
  type FlowFinder,
  type FlowPicture,
  flowPicture,
  resizedField,
  warpByFlow,
} from '../../motion/index.js';
import { boxMean, type Size } from '../../pixels/index.js';
import { type Blocks, blockMeans } from './blocks.js';
import { gradientEnergy } from './gradient-energy.js';
import type { Look } from './look.js';

/** Side of the blocks in which steps from one frame to the next are compared, px of a look. */
export const STEP_BLOCK = 16;
/** Squared gradient at which a flow is half sure: where there is nothing to hold on to, it says nothing. */
const HALF_SURE = 16;
/** Trust below which there is little to be seen in a block. */
const LITTLE = 0.15;

/** How one look goes over into another. */
export interface Movement {
  readonly from: Look;
  readonly flow: FlowField;
  /** The second look as the first one lies. */
  readonly led: Look;
  /** Squared levels of each block that no movement explains. */
  readonly missed: Blocks;
  /** Squared levels of each block, movement left in. */
  readonly plain: Blocks;
  /** The share of what changes in each block that the flow explains, 0–1. */
  readonly explained: Float32Array;
  /** How much there is for a flow to hold on to at each pixel, 0–1. */
  readonly trust: Float32Array;
}

/** Finds movements between looks of one size, and remembers them. */
export interface MovementFinder {
  between(from: Look, to: Look): Movement;
  /** What finds the flows between looks; remembers none. */
  readonly flows: FlowFinder;
}

/** @param size of the looks. */
export function createMovementFinder(size: Size): MovementFinder {
  const finder = createFlowFinder(size);
  const pyramids = new WeakMap<Look, FlowPicture>();
  const known = new WeakMap<Look, WeakMap<Look, Movement>>();
  const pyramidOf = (look: Look) => {
    const made = pyramids.get(look) ?? flowPicture(look.luma);
    pyramids.set(look, made);
    return made;
  };
  return {
    flows: finder,
    between(from, to) {
      const ofFirst = known.get(from) ?? new WeakMap<Look, Movement>();
      known.set(from, ofFirst);
      const there = ofFirst.get(to);
      if (there) return there;
      const movement = movementOf(from, to, finder.between(pyramidOf(from), pyramidOf(to)));
      ofFirst.set(to, movement);
      return movement;
    },
  };
}

function movementOf(from: Look, to: Look, flow: FlowField): Movement {
  const ofColour = resizedField(flow, to.blue);
  const led = {
    luma: warpByFlow(to.luma, flow),
    blue: warpByFlow(to.blue, ofColour),
    red: warpByFlow(to.red, ofColour),
  };
  const plain = squaresBetween(to, from);
  const missed = squaresBetween(led, from);
  // A flow that makes it worse explains nothing.
  for (let b = 0; b < missed.values.length; b++) {
    missed.values[b] = Math.min(missed.values[b], plain.values[b]);
  }
  const explained = missed.values.map((left, b) => (plain.values[b] > 0 ? 1 - left / plain.values[b] : 0));
  const energy = boxMean(gradientEnergy(from.luma), from.luma, 2, 1);
  return {
    from,
    flow,
    led,
    missed,
    plain,
    explained,
    trust: energy.map((value) => value / (value + HALF_SURE)),
  };
}

function squaresBetween({ luma: a }: Look, { luma: b }: Look): Blocks {
  const squares = new Float32Array(a.values.length);
  for (let p = 0; p < squares.length; p++) {
    const apart = a.values[p] - b.values[p];
    squares[p] = apart * apart;
  }
  return blockMeans(squares, a, STEP_BLOCK);
}

/** How much the movement of each block changes from one step to the next, px, where something is to be seen. */
export function changeOfMovement(one: Movement, next: Movement): Blocks {
  const [change, trust] = [new Float32Array(one.trust.length), new Float32Array(one.trust.length)];
  for (let p = 0; p < change.length; p++) {
    const across = one.flow.u[p] - next.flow.u[p];
    const down = one.flow.v[p] - next.flow.v[p];
    trust[p] = one.trust[p] * next.trust[p];
    change[p] = trust[p] * Math.sqrt(across * across + down * down);
  }
  return trustedMeans(change, trust, one.flow);
}

/** How far each block moves, px, where something is to be seen. */
export function speedOf({ flow, trust }: Movement): Blocks {
  const trusted = distances(flow);
  for (let p = 0; p < trusted.length; p++) trusted[p] *= trust[p];
  return trustedMeans(trusted, trust, flow);
}

/** How far each pixel moves, px. Math.hypot, with its care for huge numbers, takes several times as long. */
export function distances({ u, v }: Pick<FlowField, 'u' | 'v'>): Float32Array {
  const out = new Float32Array(u.length);
  for (let p = 0; p < out.length; p++) out[p] = Math.sqrt(u[p] * u[p] + v[p] * v[p]);
  return out;
}

/** @param trusted a plane, each pixel of it times how much it is trusted. */
function trustedMeans(trusted: Float32Array, trust: Float32Array, size: Size): Blocks {
  const means = blockMeans(trusted, size, STEP_BLOCK);
  const weights = blockMeans(trust, size, STEP_BLOCK).values;
  return { ...means, values: means.values.map((value, b) => value / (weights[b] + LITTLE)) };
}
