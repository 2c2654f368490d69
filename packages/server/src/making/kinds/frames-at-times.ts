import type { PixelFrame } from '@muted-pond/core/pixels';

/**
 * One picture for each frame of the reel, of a file in which a frame that changes nothing lengthens the one
 * before.
 * @param delaysMs of the file's pictures.
 * @param delaysCs of the reel's frames.
 */
export function* framesAtTimes(
  pictures: readonly PixelFrame[],
  delaysMs: readonly number[],
  delaysCs: readonly number[],
): Generator<PixelFrame> {
  let picture = 0;
  let endsMs = delaysMs[0] ?? Number.POSITIVE_INFINITY;
  let atMs = 0;
  for (const delayCs of delaysCs) {
    // Half a thousandth of a second is rounding.
    while (picture + 1 < pictures.length && atMs >= endsMs - 0.5) endsMs += delaysMs[++picture];
    yield pictures[picture];
    atMs += delayCs * 10;
  }
}
