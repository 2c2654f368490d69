import type { WovenPart } from '@muted-pond/core/render';
import { FAIR_WEAVE, GOOD_WEAVE } from '@muted-pond/core/weave';

/** “62 % moves, 38 % stands still; the joint is spread over 1.4 s.” */
export function wovenWords({
  moving,
  spread,
  energy,
}: Pick<WovenPart, 'moving' | 'spread' | 'energy'>): string {
  const percent = Math.round(100 * moving);
  if (percent === 0) {
    return energy >= GOOD_WEAVE
      ? 'Everything stands still: nothing here comes back to where it was. Let more move, choose another length, or crossfade.'
      : 'Everything stands still: hardly anything moves in this span.';
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
