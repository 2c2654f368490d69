import { framesNeeded, partsOf, type Reel, type ReelFrame } from '../../timing/index.js';
import type { LoopReel } from '../loop-reel.js';
import { percentile } from '../percentile.js';

/** One round of a reel, to be judged where it closes. */
export interface ClosedReel {
  readonly round: Reel;
  /** The place of the last frame before the way back; null where there is none. */
  readonly turn: number | null;
}

/** One round of a loop, and where it turns. */
export function closedReel({ reel, round, items }: Pick<LoopReel, 'reel' | 'round' | 'items'>): ClosedReel {
  return { round: reel.slice(0, round), turn: round > items.length ? items.length - 1 : null };
}

/** Three frames of the take that follow each other as frames of the reel do. */
export type Triple = readonly [first: number, second: number, third: number];

/** Two frames of the take that follow each other as frames of the reel do. */
export type Pair = readonly [first: number, second: number];

/** What must be looked at to judge how a reel closes. */
export interface JointPlan {
  /** Frames of the round. */
  readonly count: number;
  /** Steps of the round, each by the place it leaves; the last one leads to the first frame. Rising. */
  readonly steps: readonly number[];
  /**
   * Of each of those steps: what the footage does by itself from the frames that it leaves, and to those it leads to.
   * Where nothing was joined, that is the step itself.
   */
  readonly natural: readonly (readonly Pair[])[];
  /** Of each frame that a step leaves: what the footage does by itself before and after it. */
  readonly naturalTurns: readonly (readonly Triple[])[];
  /** Places of the round that those steps join. */
  readonly places: readonly number[];
  /** What the footage does by itself around the joint. */
  readonly own: readonly Triple[];
  /** Frames of the take that are looked at, rising. Those that nothing shows may lie outside the take. */
  readonly frames: readonly number[];
}

/** Frames of the reel before and after the joint from which the footage's own doings are learnt. */
const BEFORE = [8, 3];
const AFTER = [1, 4];
/** Steps of the reel before the loop's first frame, and before the one that would follow its last. */
const AROUND_START = [5, 2, 1];
const AROUND_END = [2, 1];

/** Where a reel closes: the step from its last frame to its first, where it turns, and all that is mixed. */
export function planJoint({ round, turn }: ClosedReel): JointPlan {
  const count = round.length;
  const wrapped = (place: number) => ((place % count) + count) % count;
  const steps = new Set([count - 2, count - 1, 0].map(wrapped));
  if (turn !== null) for (const place of [turn - 1, turn]) steps.add(wrapped(place));
  for (const [place, { blend }] of round.entries()) {
    if (blend) for (const step of [place - 2, place - 1, place, place + 1]) steps.add(wrapped(step));
  }
  const there = turn === null ? round : round.slice(0, turn + 1);
  const step = usualStep(there);
  const leaving = rising(steps);
  const places = new Set(leaving.flatMap((place) => [place, wrapped(place + 1)]));
  const own = ownTriples(there, step);
  const onward = (place: number) => (turn !== null && place >= turn ? -step : step);
  const natural = leaving.map((place) => {
    const by = onward(place);
    return [
      ...sourcesOf(round[place]).map((source): Pair => [source, source + by]),
      ...sourcesOf(round[wrapped(place + 1)]).map((source): Pair => [source - by, source]),
    ];
  });
  const naturalTurns = leaving.map((place) => {
    const by = onward(place);
    return sourcesOf(round[place]).map((source): Triple => [source - by, source, source + by]);
  });
  const shown = [...places].flatMap((place) => framesNeeded(round[place]));
  const frames = new Set([...own.flat(), ...natural.flat(2), ...naturalTurns.flat(2), ...shown]);
  return {
    ...{ count, steps: leaving, natural, naturalTurns, places: rising(places), own },
    frames: rising(frames),
  };
}

function sourcesOf(pick: ReelFrame): number[] {
  return partsOf(pick).map(({ source }) => source);
}

function ownTriples(there: Reel, step: number): Triple[] {
  const start = there[0].source;
  const after = there[there.length - 1].source + step;
  const end = there.findLastIndex(({ blend }) => !blend) + 1;
  const ofReel = [...BEFORE.map((before) => end - before), ...AFTER]
    .filter((place) => place >= 0 && place + 2 < end)
    .map((place): Triple => [there[place].source, there[place + 1].source, there[place + 2].source]);
  const ofTake = [
    ...AROUND_START.map((before) => start - before * step),
    ...AROUND_END.map((before) => after - before * step),
  ].map((first): Triple => [first, first + step, first + 2 * step]);
  return [...ofReel, ...ofTake];
}

/** Frames of the take from one frame of the reel to the next, less than 0 in a reversed one. */
function usualStep(there: Reel): number {
  const steps = there.slice(1).map(({ source }, i) => source - there[i].source);
  // A slowed reel shows most frames more than once.
  const moving = steps.filter((step) => step !== 0);
  return moving.length > 0 ? percentile(moving, 0.5) : 1;
}

function rising(numbers: ReadonlySet<number>): number[] {
  return [...numbers].sort((a, b) => a - b);
}
