import {
  type FlowField,
  type FlowFinder,
  type LumaPicture,
  resizedField,
  resizedPlane,
  smoothstep,
} from '../../motion/index.js';
import { boxMean } from '../../pixels/index.js';
import {
  type Blocks,
  blockMeans,
  distances,
  energyBetween,
  GHOST_BLOCK,
  type Look,
  type Moment,
  type MovementFinder,
  mixtureWeight,
  type OwnChange,
  ownChange,
  seenGhosts,
} from '../looks/index.js';
import { percentile } from '../percentile.js';
import { largestNear, softPixels } from './block-maps.js';
import { changeOver } from './changeover.js';
import type { JointEnds } from './ends.js';
import { findLedFlows } from './led-flows.js';
import { ledLook } from './led-look.js';
import { squeezedBlocks } from './squeezed.js';

/** How one frame of a joint that flows is made of two. */
export interface LedFrame {
  /** How far things are on their way from the end to the start, 0–1. */
  readonly moment: number;
  /** From the end to the start, as it lies at that moment; of the pictures' size. */
  readonly flow: FlowField;
  /** How much of the start is seen, 0–1 by pixel of the pictures. */
  readonly shares: Float32Array;
}

/** What could be led of a joint. */
export interface LedFigures {
  /** By ghost block: how much of it could not be led and changes over quickly, 0–1. */
  readonly fallen: Blocks;
  /** The share of the picture that is. */
  readonly lost: number;
  /** How far things are led where it is seen: the 95th percentile, as a share of the width. */
  readonly far: number;
}

export interface FlowJoint extends LedFigures {
  readonly frames: readonly LedFrame[];
}

/** Squared ghosts, in units of what is hardly seen, between which a block counts as failing; and as worth leading. */
const FAILS = [0.7, 2] as const;
const NEEDED = [0.35, 1] as const;
/** A block needs to be led where something is to be seen within so many blocks. */
const NEEDED_NEAR = 2;
/** What is left after leading, against before, between which leading stops being of use. */
const USELESS = [0.85, 1.1] as const;
/** Radii, px of a look, from which what cannot be led takes its movement, and how much the wider one counts. */
const TRUSTED_NEAR = [6, 16] as const;
const TRUSTED_FAR_WEIGHT = 0.1;
const TRUSTED_SOFT = 2;

/**
 * A joint in which the end of a loop flows into its start: both are led along the dense flow between them and mixed.
 * Where no flow leads from one to the other, things keep to the movement around them and change over quickly.
 * @param movements between looks of that size.
 * @param flows between pictures of that size.
 */
export function planFlowJoint(
  { pairs, seconds }: JointEnds,
  movements: MovementFinder,
  flows: FlowFinder,
): FlowJoint {
  const count = pairs.length;
  const moments = pairs.map((_, n) => smoothstep(0, 1, (n + 1) / (count + 1)));
  const { between, forth, back } = findLedFlows(pairs, moments, flows);
  const own = ownChange(movements, momentsOf(pairs));
  const size = pairs[0].from.luma;
  const [picture] = pairs[0].pictures;
  /** Squared ghosts of a crossfade of so many frames, led or not. */
  const ghosts = (sides: readonly (readonly [Look, Look])[]) => squaredGhosts(sides, seconds, own);
  const plain = ghosts(pairs.map(({ from, to }): [Look, Look] => [from, to]));
  const sidesBy = (fields: readonly FlowField[]) =>
    pairs.map(({ from, to }, n): [Look, Look] => [
      ledLook(from, fields[n], -moments[n]),
      ledLook(to, fields[n], 1 - moments[n]),
    ]);

  const small = between.map((flow) => resizedField(flow, size));
  const led = ghosts(sidesBy(small)).values;
  const needed = { ...plain, values: plain.values.map((ghost) => smoothstep(...NEEDED, ghost)) };
  const nearNeeded = largestNear(needed, NEEDED_NEAR);
  const useless = plain.values.map((ghost, b) =>
    Math.max(smoothstep(...USELESS, led[b] / Math.max(ghost, FAILS[0])), 1 - nearNeeded[b]),
  );
  const gone = goneBlocks(pairs[count >> 1], forth[count >> 1], back[count >> 1]);
  const failing = (left: Float32Array) =>
    left.map((ghost, b) => Math.max(gone[b], smoothstep(...FAILS, ghost)));

  const kept = softPixels({ ...plain, values: useless.map((share) => 1 - share) }, size, picture);
  const torn = { ...plain, values: failing(led) };
  const [tornHere, tornSmall] = [picture, size].map((to) => softPixels(torn, size, to));
  const keptSmall = softPixels({ ...plain, values: useless.map((share) => 1 - share) }, size, size);
  const fields = between.map((flow, n) => {
    const trusted = alongTrusted(scaled(small[n], keptSmall), tornSmall);
    return blended(scaled(flow, kept), trusted, tornHere);
  });

  const sides = sidesBy(fields.map((flow) => resizedField(flow, size)));
  const fallen = { ...plain, values: failing(ghosts(sides).values) };
  const misses = sides.map(([from, to]) => {
    const squares = from.luma.values.map((value, p) => (value - to.luma.values[p]) ** 2);
    return blockMeans(squares, size, GHOST_BLOCK).values;
  });
  const { shares } = changeOver(fallen, misses, seconds, size, picture);
  const far = blockMeans(distances(resizedField(fields[count >> 1], size)), size, GHOST_BLOCK).values;
  return {
    frames: fields.map((flow, n) => ({ moment: moments[n], flow, shares: shares[n] })),
    fallen,
    lost: fallen.values.reduce((sum, share) => sum + share, 0) / fallen.values.length,
    far:
      percentile(
        far.filter((_, b) => plain.values[b] > FAILS[0]),
        0.95,
      ) / size.width,
  };
}

/** What the footage does by itself at both ends of the joint, and on both sides of it. */
function momentsOf(pairs: JointEnds['pairs']): Moment[] {
  const last = pairs.length - 1;
  const firsts = [...new Set([0, Math.max(0, last - 2)])];
  return (['from', 'to'] as const).flatMap((side) =>
    firsts.map((first): Moment => {
      const [a, b, c] = [0, 1, 2].map((n) => pairs[Math.min(last, first + n)][side]);
      return [a, b, c];
    }),
  );
}

/** Squared ghosts of mixtures, in units of what is hardly seen. */
function squaredGhosts(sides: readonly (readonly [Look, Look])[], seconds: number, own: OwnChange): Blocks {
  const lost = new Float32Array(own.gradients.values.length);
  for (const [n, [from, to]] of sides.entries()) {
    const weight = mixtureWeight((n + 1) / (sides.length + 1), seconds);
    const { values } = energyBetween(from, to, GHOST_BLOCK);
    for (let b = 0; b < lost.length; b++) lost[b] += weight * values[b];
  }
  const seen = seenGhosts({ ...own.gradients, values: lost }, own);
  return { ...seen, values: seen.values.map((ghost) => ghost * ghost) };
}

/** What of either side has no counterpart on the other, 0–1 by ghost block. */
function goneBlocks(
  { from, to }: JointEnds['pairs'][number],
  forth: FlowField,
  back: FlowField,
): Float32Array {
  const [vanishing, appearing] = [
    squeezedBlocks(from.luma, resizedField(forth, from.luma)),
    squeezedBlocks(to.luma, resizedField(back, to.luma)),
  ];
  return vanishing.values.map((share, b) => Math.max(share, appearing.values[b]));
}

function scaled({ width, height, u, v }: FlowField, by: Float32Array): FlowField {
  return { width, height, u: u.map((value, p) => value * by[p]), v: v.map((value, p) => value * by[p]) };
}

/** A field as it would be if everything went along with what is trusted around it. @param torn 0–1 by pixel. */
function alongTrusted({ width, height, u, v }: FlowField, torn: Float32Array): FlowField {
  const size = { width, height };
  const trust = torn.map((share) => (1 - share) ** 2 + 1e-4) as Float32Array<ArrayBuffer>;
  const weights = TRUSTED_NEAR.map((radius) => boxMean(trust, size, radius, 1));
  const around = (values: Float32Array) => {
    const trusted = values.map((value, p) => value * trust[p]) as Float32Array<ArrayBuffer>;
    const [near, wide] = TRUSTED_NEAR.map((radius) => boxMean(trusted, size, radius, 1));
    const means = near.map(
      (value, p) =>
        (value + TRUSTED_FAR_WEIGHT * wide[p]) / (weights[0][p] + TRUSTED_FAR_WEIGHT * weights[1][p]),
    );
    return boxMean(means as Float32Array<ArrayBuffer>, size, TRUSTED_SOFT, 1);
  };
  return { width, height, u: around(u), v: around(v) };
}

/** One field that goes over into a smaller one where a share says so. */
function blended(flow: FlowField, other: FlowField, share: Float32Array): FlowField {
  const { width, height } = flow;
  const over = (values: Float32Array, small: Float32Array, scale: number) => {
    const plane: LumaPicture = { width: other.width, height: other.height, values: small };
    const there = resizedPlane(plane, flow, scale);
    return values.map((value, p) => value + share[p] * (there[p] - value));
  };
  return {
    width,
    height,
    u: over(flow.u, other.u, width / other.width),
    v: over(flow.v, other.v, height / other.height),
  };
}
