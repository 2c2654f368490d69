import type { WovenPart } from '@muted-pond/core/render';
import { FAIR_WEAVE, GOOD_WEAVE } from '@muted-pond/core/weave';

/** The part of a picture that is too small to be called moving, 0–1. */
const HARDLY = 0.004;

/** “62 % moves, 38 % stands still; the joint is spread over 1.4 s.” */
export function wovenWords({
  moving,
  living,
  spread,
  energy,
}: Pick<WovenPart, 'moving' | 'living' | 'spread' | 'energy'>): string {
  const percent = Math.round(100 * moving);
  if (percent === 0) {
    return living < HARDLY
      ? 'Everything stands still: nothing in this span moves.'
      : 'Everything stands still: at this setting nothing comes back well enough. Let more move, choose another length, or crossfade.';
  }
  const still = percent === 100 ? 'all of it' : `${100 - percent} % stands still`;
  const warning =
    energy >= FAIR_WEAVE
      ? ' Things cross each other here; a crossfade may look better.'
      : energy >= GOOD_WEAVE
        ? ' Look at it: parts hardly find a place to join.'
        : '';
  return `${percent} % moves, ${still}; the joint is spread over ${spread.toFixed(1)} s.${warning}`;
}
