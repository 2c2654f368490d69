import type { PixelFrame } from '@muted-pond/core/pixels';

/**
 * One picture for each frame of the reel, of a file in which a frame that changes nothing lengthens the one
 * before. Pictures are taken when they are due, so no more than one is held.
 * @param delaysMs of the file's pictures.
 * @param delaysCs of the reel's frames.
 */
export async function* framesAtTimes(
  pictures: AsyncIterable<PixelFrame>,
  delaysMs: readonly number[],
  delaysCs: readonly number[],
): AsyncGenerator<PixelFrame> {
  let read = 0;
  let shown = 0;
  let atMs = 0;
  let endsMs = 0;
  for await (const picture of pictures) {
    endsMs += delaysMs[read++];
    const isLast = read >= delaysMs.length;
    // Half a thousandth of a second is rounding.
    while (shown < delaysCs.length && (isLast || atMs < endsMs - 0.5)) {
      yield picture;
      atMs += delaysCs[shown++] * 10;
    }
    if (shown === delaysCs.length) return;
  }
}
