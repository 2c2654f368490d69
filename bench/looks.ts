import {
  createMovementFinder,
  type Look,
  lookBytes,
  lookSize,
  type MeasuredTake,
  readLook,
  writeLook,
} from '@muted-pond/core/loop';
import { createResizer, type PixelFrame } from '@muted-pond/core/pixels';

/** Frames as joints are judged on them. */
export function looksOf(frames: readonly PixelFrame[]): Look[] {
  const size = lookSize(frames[0]);
  const resizer = createResizer(frames[0], size);
  return frames.map((frame) => {
    const bytes = new Uint8Array(lookBytes(size));
    writeLook(resizer.resize(frame).rgba, size, bytes);
    return readLook(bytes, size);
  });
}

/** A take of frames on which joints are measured. */
export function measuredFrames(frames: readonly PixelFrame[]): MeasuredTake {
  const looks = looksOf(frames);
  return {
    looks: { at: (frame) => looks[frame] ?? null },
    load: async () => {},
    finder: createMovementFinder(looks[0].luma),
    cuts: [],
  };
}
