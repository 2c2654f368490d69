import type { Blocks } from './blocks.js';
import type { OwnChange } from './own-change.js';

/** Squared gradient, levels² a pixel², that is hardly seen where nothing hides it. */
const HARDLY = 4;
/** How much of what the footage changes by itself, movement taken out, hides a ghost: MASKING · own ^ COMPRESSED. */
const MASKING = 7.5;
/** What is twice as strong hides less than twice as much, as with contrasts (Legge and Foley, JOSA 1980). */
const COMPRESSED = 0.68;
/** Seconds for which a ghost must last to count in full. */
const LASTS = 0.3;

/** How much of a ghost is seen. @param lost gradient energy, by ghost block, summed over frames as mixtureWeight says. */
export function seenGhosts({ columns, rows, values: lost }: Blocks, own: OwnChange): Blocks {
  const { values: masks } = own.gradients;
  // A mean of nothing may lie below 0 by what rounding leaves, and has no power.
  const values = lost.map((energy, b) => {
    return Math.sqrt(energy / (HARDLY + MASKING * Math.max(0, masks[b]) ** COMPRESSED));
  });
  return { columns, rows, values };
}

/** How much a mixture that is shown for so long counts. */
export function mixtureWeight(share: number, seconds: number): number {
  return share * (1 - share) * (seconds / LASTS);
}
