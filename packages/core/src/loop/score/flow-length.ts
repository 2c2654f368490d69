import { boundaryTime, type FrameTimes, frameAt, type Reel, type Span } from '../../timing/index.js';
import { distances, type Movement } from '../looks/index.js';
import type { LoopReel } from '../loop-reel.js';
import { percentile } from '../percentile.js';
import type { MeasuredTake } from './reel-seam.js';

/** Frames of a flow that suits: at least, and at most. */
const LENGTH = { least: 6, most: 24 };
/** Things may be led so much faster than they move anyway, as the mean over an eased joint; px of a look where nothing moves. */
const FASTER = 0.6;
const SLOWEST = 1;
/** An eased joint is one and a half times as fast in its middle as in the mean. */
const EASED = 1.5;
/** What most of the textured places move less than. */
const MOSTLY = 0.9;
/** Places where a flow is sure enough to be asked. */
const SURE = 0.5;

/**
 * How many frames it takes for the end of a loop to flow into its start without haste: so many that things are not led
 * much faster than they move by themselves.
 * @param cut the loop, cut.
 * @param longest frames that the flow can have.
 * @returns null where it can have none, or the frames it would be told from are not at hand.
 * @throws what loading throws.
 */
export async function findFlowLength(
  { looks, load, finder }: MeasuredTake,
  times: FrameTimes,
  span: Span,
  cut: Pick<LoopReel, 'reel' | 'round'>,
  longest: number,
): Promise<number | null> {
  const round = cut.reel.slice(0, cut.round);
  if (longest < 1 || round.length < 4) return null;
  const ends = endsOf(times, span, round);
  const count = round.length;
  const own = [1, count >> 1, count - 2].map(
    (place) => [round[place - 1].source, round[place].source] as const,
  );
  const pairs = [ends, ...own];
  await load(pairs.flat());
  const moves = pairs.map(([from, to]) => {
    const [one, other] = [looks.at(from), looks.at(to)];
    return one && other && finder.between(one, other);
  });
  const [across, ...usual] = moves;
  if (!across) return null;
  const speeds = usual.filter((move) => move !== null).map(reach);
  const speed = Math.max(SLOWEST, FASTER * percentile(speeds, 0.5));
  const wanted = Math.round((EASED * reach(across)) / speed) - 1;
  const most = Math.min(LENGTH.most, longest, count >> 1);
  return Math.max(Math.min(LENGTH.least, most), Math.min(most, wanted));
}

/** The last frame, and the one that the start comes from; where there is none, what comes after the end and the first. */
function endsOf(times: FrameTimes, span: Span, round: Reel): readonly [number, number] {
  const length = boundaryTime(times, span.end) - boundaryTime(times, span.start);
  const [first, last] = [round[0].source, round[round.length - 1].source];
  const before = times.starts[last] - length;
  if (before >= 0) return [last, frameAt(times, before)];
  const after = times.starts[first] + length;
  return [frameAt(times, Math.min(after, times.duration)), first];
}

function reach({ flow, trust }: Movement): number {
  return percentile(
    distances(flow).filter((_, p) => trust[p] > SURE),
    MOSTLY,
  );
}
