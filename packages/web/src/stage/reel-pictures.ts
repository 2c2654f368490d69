import { partsOf, type Reel } from '@muted-pond/core/timing';
import { frameKey } from '../api/frame-urls.js';
import type { ComposedFrames, StagePlan } from '../pictures/composed-frames.js';
import type { FrameCache } from '../pictures/frame-cache.js';
import type { PieceTake } from '../piece/piece-take.js';

/** The pictures that a playing reel needs: which are there, and which will be wanted. */
export interface ReelPictures {
  isThere(place: number): boolean;
  /** Asks for one that is due. */
  ask(place: number): void;
  /** Asks for those that will be due, the next first. */
  prefetch(places: readonly number[]): void;
}

/** Working frames as they are. */
export function footagePictures(frames: FrameCache, take: PieceTake, reel: Reel): ReelPictures {
  const keysOf = (place: number) => {
    return partsOf(reel[place]).map(({ source }) => {
      const { file, frame } = take.frame(source);
      return frameKey(file.hash, frame);
    });
  };
  return {
    isThere: (place) => keysOf(place).every((key) => frames.get(key)),
    ask(place) {
      for (const key of keysOf(place)) void frames.load(key).catch(() => {});
    },
    prefetch: (places) => frames.prefetch(places.flatMap(keysOf)),
  };
}

/** What the steps make of them. */
export function composedPictures(composed: ComposedFrames, plan: StagePlan): ReelPictures {
  const ask = (place: number) => void composed.load(plan, place).catch(() => {});
  return {
    isThere: (place) => composed.get(plan, place) !== null,
    ask,
    prefetch: (places) => places.forEach(ask),
  };
}
