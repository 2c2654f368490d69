import { type Reel, reelCentiseconds } from '@muted-pond/core/timing';

/** When a place of the reel begins and ends, centiseconds. */
export function momentOf(reel: Reel, place: number): { readonly beginsCs: number; readonly endsCs: number } {
  const beginsCs = reelCentiseconds(reel.slice(0, place));
  return { beginsCs, endsCs: beginsCs + (reel[place]?.delayCs ?? 0) };
}

/** The place that is shown at a moment; the last one past the end. */
export function placeAt(reel: Reel, atCs: number): number {
  let ends = 0;
  for (const [place, { delayCs }] of reel.entries()) {
    ends += delayCs;
    if (atCs < ends) return place;
  }
  return reel.length - 1;
}

/** The nearest boundary between frames, or an end of the reel. */
export function nearestCs(reel: Reel, atCs: number): number {
  let [best, ends] = [0, 0];
  for (const { delayCs } of reel) {
    ends += delayCs;
    if (Math.abs(ends - atCs) < Math.abs(best - atCs)) best = ends;
  }
  return best;
}
