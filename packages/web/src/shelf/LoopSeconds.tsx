import { UserError } from '@muted-pond/core/errors';
import type { Recipe } from '@muted-pond/core/recipe';
import { loopOf } from '@muted-pond/core/render';
import { type FrameTimes, reelCentiseconds } from '@muted-pond/core/timing';
import { formatSeconds } from '../ui/format.js';

/** How long one round of the loop is seen. */
export default function LoopSeconds({ recipe, times }: { recipe: Recipe; times: FrameTimes }) {
  try {
    const { reel, round } = loopOf(recipe, { times });
    return formatSeconds(reelCentiseconds(reel.slice(0, round)) / 100);
  } catch (error) {
    if (error instanceof UserError) return 'no reel';
    throw error;
  }
}
