import {
  type Blocks,
  blockMeans,
  distances,
  energyBetween,
  GHOST_BLOCK,
  type Look,
  type Movement,
  type MovementFinder,
  mixtureWeight,
  type OwnChange,
  seenGhosts,
} from '../looks/index.js';
import type { Mixed, ShownFrame } from './shown-frame.js';

/** Two pictures that lie so far apart are seen as two rather than as a soft one, px. */
const APART = 2;
/** A frame that is mixed. */
type Mixture = ShownFrame & { readonly mixed: NonNullable<ShownFrame['mixed']> };

/**
 * Where two pictures are seen through each other, by blocks, in units of what is hardly seen. A mixture has less
 * gradient energy than its parts where they differ: (1 − w)|∇a|² + w|∇b|² − |∇c|² = w (1 − w)|∇(a − b)|². That is
 * summed over the frames of the joint and the seconds for which each is shown, and held against what hides it.
 */
export function ghostsOf(
  finder: MovementFinder,
  shown: ReadonlyMap<number, ShownFrame>,
  own: OwnChange,
): Blocks {
  const { columns, rows } = own.gradients;
  const lost = new Float32Array(columns * rows);
  for (const run of runsOf(shown)) {
    const { under, over } = run[run.length >> 1].mixed;
    const apart = shareApart(finder.between(under, over), over);
    for (const { mixed, seconds } of run) {
      const weights = weightsOf(mixed, seconds);
      const { values } = energyBetween(mixed.under, mixed.over, GHOST_BLOCK);
      for (let b = 0; b < lost.length; b++) lost[b] += weights(b) * values[b] * apart[b];
    }
  }
  return seenGhosts({ columns, rows, values: lost }, own);
}

/** How much a mixture counts, by ghost block. */
function weightsOf({ share, under }: Mixed, seconds: number): (b: number) => number {
  if (typeof share === 'number') {
    const weight = mixtureWeight(share, seconds);
    return () => weight;
  }
  const byPixel = share.map((one) => mixtureWeight(one, seconds));
  const { values } = blockMeans(byPixel, under.luma, GHOST_BLOCK);
  return (b) => values[b];
}

/** Mixtures that follow each other in the round. */
function runsOf(shown: ReadonlyMap<number, ShownFrame>): Mixture[][] {
  const runs: Mixture[][] = [];
  let last = Number.NaN;
  for (const [place, frame] of shown) {
    if (!frame.mixed) continue;
    if (place !== last + 1) runs.push([]);
    runs[runs.length - 1].push(frame as Mixture);
    last = place;
  }
  return runs;
}

/** Of each block, how much of a mixture is seen as two pictures: 0 where a small movement leads one into the other. */
function shareApart({ from, led, flow }: Movement, over: Look): Float32Array {
  const distance = blockMeans(distances(flow), flow, GHOST_BLOCK).values;
  const left = energyBetween(led, from, GHOST_BLOCK).values;
  const plain = energyBetween(over, from, GHOST_BLOCK).values;
  return distance.map((far, b) => {
    const led = plain[b] > 0 ? Math.max(0, 1 - left[b] / plain[b]) : 0;
    return 1 - led * Math.exp(-((far / APART) ** 2));
  });
}
