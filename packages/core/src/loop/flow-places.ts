import {
  createFlowFinder,
  type FlowPicture,
  flowPicture,
  halved,
  type LumaPicture,
  scenesWithin,
  warpByFlow,
} from '../motion/index.js';
import { boxMean } from '../pixels/index.js';
import type { FrameTimes, Span } from '../timing/index.js';
import type { LoopLength } from './find-seams.js';
import { blockMeans, distances, gradientEnergy, meanOfLargest } from './looks/index.js';
import { percentile } from './percentile.js';
import type { MeasuredTake } from './score/index.js';
import { isSameLoop } from './seam-search.js';

/** Where the middle of a flow usually lies: so many frames of the reel before the end and before the start. */
const AHEAD = 6;
/** Pairs of frames that are tried on a grid at first, frames between those of the grid at least, pairs tried both ways. */
const GRID = { most: 900, step: 6, bothWays: 40 };
/** Places given. */
const PLACES = 5;
/** Side of the blocks in which it is judged what is left, px of a picture of 80; and how many are looked at. */
const BLOCK = 6;
const WORST = [0.05, 3] as const;
/** Squared gradient that is hardly seen; and how much of what the footage changes by itself hides as much again. */
const HARDLY = 4;
const MASKING = 2;
/** Led so far, shares of the width, a place counts half. */
const FAR = 0.08;
/** Squared gradient from which on there is something to hold on to; and what most of those places move less than. */
const TEXTURED = 16;
const MOSTLY = 0.9;
/** Pairs that are tried before something newer may be heard. */
const HEARD_AFTER = 24;

/** What is looked for. */
export interface FlowPlacesAsk {
  /** Loops lie in here; what flows into them may lie before. */
  readonly within: Span;
  /** The frames that are at hand. */
  readonly window: Span;
  readonly length: LoopLength;
  /** Frames of the take from one frame of the reel to the next. */
  readonly every: number;
  /** How much each pixel of a look counts, 0–1; null: as much as any other. */
  readonly weights: Float32Array | null;
}

/** Two frames between which a loop may flow: its end, and what comes before its start. */
interface Pair {
  readonly from: number;
  readonly to: number;
}

interface TriedPair extends Pair {
  /** Lower is better. It does not compare across takes. */
  readonly cost: number;
}

/**
 * Places where the end of a loop can flow into its start, though they need not look alike: a flow between pictures of
 * 80 px, on a grid of pairs first, then around the best of them.
 * @param hear called now and then; ends the search by throwing.
 * @returns the best first; no two of them nearly the same.
 * @throws what loading and hear throw.
 */
export async function findFlowPlaces(
  take: MeasuredTake,
  times: FrameTimes,
  ask: FlowPlacesAsk,
  hear: () => Promise<void> = async () => {},
): Promise<Span[]> {
  const rate = times.starts.length / times.duration;
  const shortest = Math.max(2, Math.ceil(ask.length.min * rate - 1e-6));
  const longest = Math.floor(ask.length.max * rate + 1e-6);
  const ahead = AHEAD * ask.every;
  const scenes = scenesWithin(ask.window, take.cuts);
  const loopOf = ({ from, to }: Pair): Span => ({ start: to + ahead, end: from + ahead });
  const isPlace = (pair: Pair) => {
    const { start, end } = loopOf(pair);
    const isLong = end - start >= shortest && end - start <= longest;
    const isWithin = start >= ask.within.start && end <= ask.within.end;
    return isLong && isWithin && scenes.some((scene) => pair.to >= scene.start && end <= scene.end);
  };
  const grid = gridOf(ask.window, isPlace, { shortest, longest });
  const judge = await openJudge(take, ask);
  if (!judge) return [];
  let tried = 0;
  const costOf = async (pair: Pair, isBothWays: boolean): Promise<TriedPair> => {
    tried++;
    if (tried % HEARD_AFTER === 0) await hear();
    await take.load([pair.from, pair.to]);
    return { ...pair, cost: judge(pair, isBothWays) };
  };
  const byCost = (one: TriedPair, other: TriedPair) => one.cost - other.cost || one.to - other.to;
  const coarse: TriedPair[] = [];
  for (const pair of grid.pairs) coarse.push(await costOf(pair, false));
  const both: TriedPair[] = [];
  for (const pair of coarse.sort(byCost).slice(0, GRID.bothWays)) both.push(await costOf(pair, true));
  const kept: TriedPair[] = [];
  for (const pair of both.sort(byCost)) {
    if (kept.length === PLACES) break;
    if (kept.some((other) => isSameLoop(loopOf(other), loopOf(pair)))) continue;
    let best = pair;
    for (let by = grid.step >> 1; by >= 2; by >>= 1) {
      for (const near of around(best, by).filter(isPlace)) {
        const other = await costOf(near, true);
        if (other.cost < best.cost) best = other;
      }
    }
    kept.push(best);
  }
  return kept.sort(byCost).map(loopOf);
}

/** As many pairs as may be tried, evenly over all that there are. */
function gridOf(
  { start, end }: Span,
  isPlace: (pair: Pair) => boolean,
  { shortest, longest }: { readonly shortest: number; readonly longest: number },
): { readonly pairs: readonly Pair[]; readonly step: number } {
  for (let step = GRID.step; ; step++) {
    const pairs: Pair[] = [];
    for (let to = start; to < end; to += step) {
      for (let from = to + shortest; from <= to + longest && from < end; from += step) {
        if (isPlace({ from, to })) pairs.push({ from, to });
      }
    }
    if (pairs.length <= GRID.most) return { pairs, step };
  }
}

function around({ from, to }: Pair, by: number): Pair[] {
  return [
    { from: from - by, to },
    { from: from + by, to },
    { from, to: to - by },
    { from, to: to + by },
  ];
}

/**
 * Judges pairs whose looks are loaded.
 * @returns null where there is no frame to learn from.
 */
async function openJudge(
  { looks, load }: MeasuredTake,
  { window, every, weights }: FlowPlacesAsk,
): Promise<((pair: Pair, isBothWays: boolean) => number) | null> {
  const pictures = new Map<number, { readonly luma: LumaPicture; readonly flow: FlowPicture }>();
  const pictureOf = (frame: number) => {
    const there = pictures.get(frame);
    if (there) return there;
    const look = looks.at(frame);
    if (!look) return null;
    const luma = halved(look.luma);
    const made = { luma, flow: flowPicture(luma) };
    pictures.set(frame, made);
    return made;
  };
  const middles = [0.25, 0.5, 0.75].map((share) =>
    Math.floor(window.start + share * (window.end - 1 - window.start)),
  );
  await load(middles.flatMap((frame) => [frame, frame + every]));
  const some = pictureOf(middles[0]);
  const full = looks.at(middles[0])?.luma;
  if (!some || !full) return null;
  const finder = createFlowFinder(some.luma);
  const counts = weights && halved({ ...full, values: weights }).values;
  /** Squared gradients that change between two pictures of 80 px. */
  const change = (one: LumaPicture, other: LumaPicture) =>
    gradientEnergy({ ...one, values: one.values.map((value, p) => value - other.values[p]) });
  const ownChanges = middles.flatMap((frame) => {
    const [one, other] = [pictureOf(frame), pictureOf(frame + every)];
    return one && other ? [percentile(change(one.luma, other.luma), 0.25)] : [];
  });
  const hidden = HARDLY + MASKING * (ownChanges.length > 0 ? percentile(ownChanges, 0.5) : 0);

  return ({ from, to }, isBothWays) => {
    const [a, b] = [pictureOf(from), pictureOf(to)];
    if (!a || !b) return Number.POSITIVE_INFINITY;
    const forth = finder.between(a.flow, b.flow);
    const left = change(warpByFlow(b.luma, forth), a.luma);
    if (isBothWays) {
      const back = change(warpByFlow(a.luma, finder.between(b.flow, a.flow)), b.luma);
      for (let p = 0; p < left.length; p++) left[p] = Math.max(left[p], back[p]);
    }
    for (let p = 0; p < left.length; p++) left[p] *= (counts ? counts[p] : 1) / hidden;
    const ghosts = meanOfLargest(blockMeans(left, a.luma, BLOCK).values, ...WORST);
    const texture = boxMean(gradientEnergy(a.luma), a.luma, 1, 1);
    const led = distances(forth).filter((_, p) => texture[p] > TEXTURED && (!counts || counts[p] > 0));
    const far = led.length > 0 ? percentile(led, MOSTLY) / a.luma.width : 0;
    return ghosts * (1 + (far / FAR) ** 2);
  };
}
