import type { FollowWay } from '@muted-pond/core/api';
import { type ShareRect, thinKeys, type VeilKey } from '@muted-pond/core/dress';
import { createRegionTracker, type LumaPicture, lumaOf, type TrackedRegion } from '@muted-pond/core/motion';
import { type Size, sizeWithin } from '@muted-pond/core/pixels';
import type { MakingFile } from '../making/index.js';
import { decodeFrames } from '../media/index.js';

/** Longer side of the frames it is followed on, px. */
const FOLLOWED_SIDE = 640;
/** Frames that are held at once: backwards, they are decoded forwards all the same. */
const HELD = 90;
/** Frames in a row that it may not be found on before it counts as lost. */
const MOST_COVERED = 20;
/** Outside the picture by more than this, nothing is hidden; shares of it. */
const FARTHEST = 3;

/** Plain data: it travels between threads. */
export interface FollowTask {
  readonly file: MakingFile;
  /** Where it lies on the first frame. */
  readonly region: ShareRect;
  readonly frame: number;
  readonly way: FollowWay;
  /** The last frame that is looked at; before the first one where it goes backwards. */
  readonly last: number;
}

export interface Followed {
  readonly keys: readonly VeilKey[];
  readonly confidence: readonly number[];
  readonly lostAt: number | null;
}

/** Follows a region of footage from a frame on, until the last one or until it is lost. */
export async function followRegion(
  { file, region, frame, way, last }: FollowTask,
  onProgress: (done: number) => void,
): Promise<Followed> {
  const size = sizeWithin(file.facts, FOLLOWED_SIDE);
  const keys: VeilKey[] = [{ ...region, frame, by: 'following' }];
  const confidence = [1];
  const total = Math.max(1, Math.abs(last - frame));
  let tracker: ReturnType<typeof createRegionTracker> | null = null;
  let missed = 0;
  for await (const [at, picture] of pictures(file, size, frame, last)) {
    if (!tracker) {
      tracker = createRegionTracker(picture, toPixels(region, size));
      continue;
    }
    const place = tracker.next(picture);
    confidence.push(Math.max(0, place.confidence));
    onProgress(confidence.length / (total + 1));
    missed = place.isFound ? 0 : missed + 1;
    if (place.isFound) keys.push({ ...toShares(place.region, size), frame: at, by: 'following' });
    if (missed > MOST_COVERED) break;
  }
  const found = keys[keys.length - 1].frame;
  const rising = way === 'forwards' ? keys : keys.reverse();
  const step = way === 'forwards' ? 1 : -1;
  return { keys: thinKeys(rising), confidence, lostAt: found === last ? null : found + step };
}

/** Frames one after the other, either way. */
async function* pictures(
  { path, name, facts }: MakingFile,
  size: Size,
  first: number,
  last: number,
): AsyncGenerator<[frame: number, picture: LumaPicture]> {
  const decode = (frames: readonly number[]) =>
    decodeFrames({ path, name, facts, frames, size, format: 'rgba' });
  if (last >= first) {
    const frames = Array.from({ length: last - first + 1 }, (_, i) => first + i);
    for await (const { frame, data } of decode(frames)) yield [frame, lumaOf(data, size, size)];
    return;
  }
  for (let end = first; end >= last; end -= HELD) {
    const start = Math.max(last, end - HELD + 1);
    const held: [number, LumaPicture][] = [];
    const frames = Array.from({ length: end - start + 1 }, (_, i) => start + i);
    for await (const { frame, data } of decode(frames)) held.push([frame, lumaOf(data, size, size)]);
    yield* held.reverse();
  }
}

function toPixels({ x, y, width, height }: ShareRect, size: Size): TrackedRegion {
  return {
    x: (x + width / 2) * size.width,
    y: (y + height / 2) * size.height,
    width: width * size.width,
    height: height * size.height,
  };
}

function toShares(region: TrackedRegion, size: Size): ShareRect {
  const [width, height] = [region.width / size.width, region.height / size.height];
  const within = (value: number) => Math.max(-FARTHEST, Math.min(FARTHEST, value));
  return {
    x: within(region.x / size.width - width / 2),
    y: within(region.y / size.height - height / 2),
    width,
    height,
  };
}
