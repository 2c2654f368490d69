import type { Size } from '../../pixels/index.js';
import type { LedFigures } from '../flow-joint/index.js';
import {
  type Blocks,
  blockMeans,
  changeOfMovement,
  GHOST_BLOCK,
  type Looks,
  type Moment,
  type Movement,
  type MovementFinder,
  meanOfLargest,
  type OwnChange,
  ownChange,
  STEP_BLOCK,
  speedOf,
} from '../looks/index.js';
import { percentile } from '../percentile.js';
import { ghostsOf } from './ghosts.js';
import { type ClosedReel, type JointPlan, planJoint } from './joint-plan.js';
import { type ShownFrame, shownFrames } from './shown-frame.js';

/** What may give a joint away: two pictures seen through each other, a leap, a sudden change of movement. */
export type JointFault = 'ghost' | 'jump' | 'bend';

/** How a joint is seen. */
export interface JointScore {
  /** How unnoticeable it is, 0–100: 90 and more are not noticed, 75–90 hardly, 50–75 are, below it is plain to see. */
  readonly score: number;
  /** Each in units of its own; HALFWAY alone makes 50. */
  readonly figures: Readonly<Record<JointFault, number>>;
  /** What is seen most. */
  readonly fault: JointFault;
  /** Where that is seen, by blocks over the picture; 1: as much as alone makes 50. */
  readonly map: Blocks;
  /** What could be led, where the end flows into the start. */
  readonly led?: LedFigures;
}

/** Up to here a joint that flows is proposed: the share of the picture that cannot be led, and how far things are led. */
const MOST_LED = { lost: 0.3, far: 0.12 };
/** Led so far, shares of the width, things tear or fall apart so that this alone makes 50; and how steeply that counts. */
const TEARS = { halfway: 0.17, steepness: 4 };

/** Whether a joint may be proposed: a flow that leaves too much behind, or leads things too far, may not. */
export function isWellLed({ led }: Pick<JointScore, 'led'>): boolean {
  return !led || (led.lost <= MOST_LED.lost && led.far <= MOST_LED.far);
}

/** The score of a joint that is to be proposed: 0 where it may not be, or could not be measured. */
export function proposedScore(joint: JointScore | null): number {
  return joint && isWellLed(joint) ? joint.score : 0;
}

/** Where each figure alone makes 50 of 100, and how steeply it counts. */
const HALFWAY: Readonly<Record<JointFault, number>> = { jump: 4, bend: 3.5, ghost: 2.5 };
const STEEPNESS: Readonly<Record<JointFault, number>> = { jump: 1.5, bend: 1.5, ghost: 3 };
/** The share of blocks that is looked at, where most is seen; and the fewest blocks. */
const WORST: Readonly<Record<JointFault, readonly [number, number]>> = {
  ghost: [0.01, 3],
  jump: [0.03, 3],
  bend: [0.03, 3],
};
/** How much of the movement in a block hides a miss there. */
const STEPS_HIDE = 0.3;
/** A change of movement is seen from so many px on, and from such a share of the speed there. */
const SLOWEST = 0.4;
const SPEEDS = 0.5;
/** A frame that is shown for more than so many usual times is a rest: movement stops there because it is meant to. */
const RESTS_FROM = 2;

/**
 * How well a reel closes, whatever closes it, on pictures of about 160 px.
 * @param weights how much each pixel of a look counts, 0–1: what lies outside the crop or does not move counts 0.
 * @returns null where frames that are needed are not at hand.
 */
export function measureJoint(
  looks: Looks,
  finder: MovementFinder,
  reel: ClosedReel,
  weights: Float32Array | null = null,
): JointScore | null {
  const plan = planJoint(reel);
  const seen = shownFrames(looks, finder, reel.round, plan.places);
  const moments = plan.own.flatMap((triple) => {
    const [a, b, c] = triple.map((frame) => looks.at(frame));
    return a && b && c ? [[a, b, c] as const] : [];
  });
  if (!seen) return null;
  const { frames: shown, led } = seen;
  const own = ownChange(finder, moments.length > 0 ? moments : [momentOf(shown)]);
  const ghosts = ghostsOf(finder, shown, own);
  const natural = naturalSteps(looks, finder, plan, own);
  const judged = judgeRound(finder, { shown, ...plan }, natural, own, ghosts, weights);
  if (!led) return judged;
  // No figure here sees that something is torn.
  const torn = (led.far / TEARS.halfway) ** TEARS.steepness;
  const { fallen, lost, far } = led;
  return { ...judged, score: 100 / (100 / judged.score + torn), led: { fallen, lost, far } };
}

/** Where the take has no three frames that follow each other, what is shown is all that can be learnt from. */
function momentOf(shown: ReadonlyMap<number, ShownFrame>): Moment {
  const looks = [...shown.values()].map(({ look }) => look);
  return [looks[0], looks[1 % looks.length], looks[2 % looks.length]];
}

/** What footage does by itself where a reel closes; of each step of the reel, in the order of its steps. */
export interface NaturalSteps {
  /** What no movement explains in steps of the footage, by step block. */
  missed(index: number): readonly Float32Array[];
  /** How much movement changes in the footage, and its speed, by step block. */
  turns(index: number): readonly { readonly bend: Float32Array; readonly speed: Float32Array }[];
}

/** Some steps of a round, and the frames that they join by their places. */
export interface ShownSteps {
  readonly shown: ReadonlyMap<number, ShownFrame>;
  /** Places that the steps leave. */
  readonly steps: readonly number[];
  /** Frames of the round. */
  readonly count: number;
}

function naturalSteps(looks: Looks, finder: MovementFinder, plan: JointPlan, own: OwnChange): NaturalSteps {
  /** From each of some frames to the next; none where one is not at hand, or a cut lies between them. */
  const along = (frames: readonly number[]): Movement[] => {
    const there = frames.map((frame) => looks.at(frame));
    const moves = there.slice(1).map((next, i) => {
      const before = there[i];
      return before && next ? finder.between(before, next) : null;
    });
    return moves.every((move) => move !== null && own.isUsual(move)) ? (moves as Movement[]) : [];
  };
  return {
    missed: (i) => plan.natural[i].flatMap(along).map(({ missed }) => missed.values),
    turns: (i) =>
      plan.naturalTurns[i].flatMap((triple) => {
        const [first, second] = along(triple);
        return second ? [turnOf(first, second)] : [];
      }),
  };
}

/** How one movement goes over into the next. */
export function turnOf(first: Movement, second: Movement): ReturnType<NaturalSteps['turns']>[number] {
  return { bend: changeOfMovement(first, second).values, speed: speedOf(second).values };
}

/**
 * The score of some steps of a round.
 * @param ghosts what is seen twice, by ghost block, in units of what is hardly seen.
 */
export function judgeRound(
  finder: MovementFinder,
  { shown, steps, count }: ShownSteps,
  natural: NaturalSteps,
  own: OwnChange,
  ghosts: Blocks,
  weights: Float32Array | null = null,
): JointScore {
  const frameAt = (place: number) => shown.get(place % count) as ShownFrame;
  const jump = new Float32Array(own.bend.length);
  const bend = new Float32Array(own.bend.length);
  const movements = new Map<number, Movement>();
  for (const [i, step] of steps.entries()) {
    const movement = finder.between(frameAt(step).look, frameAt(step + 1).look);
    movements.set(step, movement);
    const unexplained = largestOf([own.unexplained, ...natural.missed(i)]);
    for (let b = 0; b < jump.length; b++) {
      const beyond = movement.missed.values[b] - Math.max(unexplained[b], own.noise);
      const hidden = Math.sqrt(unexplained[b]) + STEPS_HIDE * Math.sqrt(own.step[b]) + 1;
      jump[b] = Math.max(jump[b], Math.sqrt(Math.max(0, beyond)) / hidden);
    }
  }
  const usual = percentile(
    steps.map((step) => frameAt(step).seconds),
    0.5,
  );
  for (const [i, step] of steps.entries()) {
    const before = movements.get((step + count - 1) % count);
    if (!before || frameAt(step).seconds > RESTS_FROM * usual) continue;
    const after = movements.get(step) as Movement;
    const change = changeOfMovement(before, after);
    const turns = natural.turns(i);
    const bends = largestOf([own.bend, ...turns.map((one) => one.bend)]);
    const speeds = largestOf([own.speed, ...turns.map((one) => one.speed)]);
    for (let b = 0; b < bend.length; b++) {
      const beyond = (change.values[b] - bends[b]) / (SLOWEST + SPEEDS * speeds[b]);
      bend[b] = Math.max(bend[b], before.explained[b] * after.explained[b] * beyond);
    }
  }
  const { columns, rows } = (movements.get(steps[0]) as Movement).missed;
  const maps = {
    jump: { columns, rows, values: jump },
    bend: { columns, rows, values: bend },
    ghost: ghosts,
  };
  return scoreOf(maps, weights, frameAt(steps[0]).look.luma);
}

function largestOf([first, ...others]: readonly Float32Array[]): Float32Array {
  return first.map((value, b) => Math.max(value, ...others.map((other) => other[b])));
}

function scoreOf(
  maps: Readonly<Record<JointFault, Blocks>>,
  weights: Float32Array | null,
  size: Size,
): JointScore {
  const weighted = {
    ghost: inPlaces(maps.ghost, weights, size, GHOST_BLOCK),
    jump: inPlaces(maps.jump, weights, size, STEP_BLOCK),
    bend: inPlaces(maps.bend, weights, size, STEP_BLOCK),
  };
  const faults = Object.keys(weighted) as JointFault[];
  const figures = Object.fromEntries(
    faults.map((fault) => [fault, meanOfLargest(weighted[fault].counted, ...WORST[fault])]),
  ) as Record<JointFault, number>;
  const costs = faults.map((fault) => (figures[fault] / HALFWAY[fault]) ** STEEPNESS[fault]);
  const fault = faults[costs.indexOf(Math.max(...costs))];
  const { columns, rows } = maps[fault];
  const values = weighted[fault].all.map((value) => value / HALFWAY[fault]);
  return {
    score: 100 / (1 + costs.reduce((sum, cost) => sum + cost, 0)),
    figures,
    fault,
    map: { columns, rows, values },
  };
}

/** Blocks that count less than this are not among those that count. */
const LEAST_WEIGHT = 0.05;

/** A map where only some places count. Its values are roots of sums over a block, and so is what a part of it shows. */
function inPlaces(
  { values }: Blocks,
  weights: Float32Array | null,
  size: Size,
  side: number,
): { readonly all: Float32Array; readonly counted: Float32Array } {
  if (!weights) return { all: values, counted: values };
  const shares = blockMeans(weights, size, side).values;
  const all = values.map((value, b) => value * Math.sqrt(shares[b]));
  return { all, counted: all.filter((_, b) => shares[b] > LEAST_WEIGHT) };
}
