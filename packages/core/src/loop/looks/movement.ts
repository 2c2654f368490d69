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
  const squares = a.values.map((value, p) => (value - b.values[p]) ** 2);
  return blockMeans(squares, a, STEP_BLOCK);
}

/** How much the movement of each block changes from one step to the next, px, where something is to be seen. */
export function changeOfMovement(one: Movement, next: Movement): Blocks {
  const change = distances({
    u: one.flow.u.map((across, p) => across - next.flow.u[p]),
    v: one.flow.v.map((down, p) => down - next.flow.v[p]),
  });
  const trust = one.trust.map((value, p) => value * next.trust[p]);
  return trustedMeans(change, trust, one.flow);
}

/** How far each block moves, px, where something is to be seen. */
export function speedOf({ flow, trust }: Movement): Blocks {
  return trustedMeans(distances(flow), trust, flow);
}

/** How far each pixel moves, px. Math.hypot, with its care for huge numbers, takes several times as long. */
export function distances({ u, v }: Pick<FlowField, 'u' | 'v'>): Float32Array {
  return u.map((across, p) => Math.sqrt(across * across + v[p] * v[p]));
}

function trustedMeans(plane: Float32Array, trust: Float32Array, size: Size): Blocks {
  const means = blockMeans(
    plane.map((value, p) => value * trust[p]),
    size,
    STEP_BLOCK,
  );
  const weights = blockMeans(trust, size, STEP_BLOCK).values;
  return { ...means, values: means.values.map((value, b) => value / (weights[b] + LITTLE)) };
}
