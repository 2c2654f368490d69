import { type Blocks, blockMeans } from './blocks.js';
import { energyBetween } from './gradient-energy.js';
import type { Look } from './look.js';
import { distances, type Movement, type MovementFinder } from './movement.js';
import { GHOST_BLOCK, type OwnChange } from './own-change.js';
import type { ShownFrame } from './shown-frame.js';

/** Squared gradient, levels² a pixel², that is hardly seen where nothing hides it. */
const HARDLY = 4;
/** How much of what the footage changes by itself, movement taken out, hides a ghost: MASKING · own ^ COMPRESSED. */
const MASKING = 7.5;
/** What is twice as strong hides less than twice as much, as with contrasts (Legge and Foley, JOSA 1980). */
const COMPRESSED = 0.68;
/** Two pictures that lie so far apart are seen as two rather than as a soft one, px. */
const APART = 2;
/** Seconds for which a ghost must last to count in full. */
const LASTS = 0.3;

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
      const weight = mixtureWeight(mixed.share, seconds);
      const { values } = energyBetween(mixed.under, mixed.over, GHOST_BLOCK);
      for (let b = 0; b < lost.length; b++) lost[b] += weight * values[b] * apart[b];
    }
  }
  return seenGhosts({ columns, rows, values: lost }, own);
}

/** How much of a ghost is seen. @param lost gradient energy, by ghost block, summed over frames as mixtureWeight says. */
export function seenGhosts({ columns, rows, values: lost }: Blocks, own: OwnChange): Blocks {
  const { values: masks } = own.gradients;
  const values = lost.map((energy, b) => Math.sqrt(energy / (HARDLY + MASKING * masks[b] ** COMPRESSED)));
  return { columns, rows, values };
}

/** How much a mixture that is shown for so long counts. */
export function mixtureWeight(share: number, seconds: number): number {
  return share * (1 - share) * (seconds / LASTS);
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
