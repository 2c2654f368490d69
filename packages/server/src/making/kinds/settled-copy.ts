import { copyToShared, type PixelFrame, type ThreadPool } from '@muted-pond/core/pixels';
import { settle, showSettled } from '@muted-pond/core/settle';

/**
 * The frames with every pixel's history settled: encoders find what stands still and what grain there was is
 * not written. Frames that can be seen through stay as they are.
 * @param levels as settle takes it; 0 changes nothing.
 */
export function settledCopy(
  frames: readonly PixelFrame[],
  levels: number,
  isOpaque: boolean,
  threads: ThreadPool,
): readonly PixelFrame[] {
  if (levels <= 0 || !isOpaque || frames.length < 2) return frames;
  const copies = frames.map((frame) => copyToShared(frame, threads));
  showSettled(settle(copies, levels, { threads, isOpaque: true }));
  return copies;
}
