import type { TrialFigures } from '@muted-pond/core/api';

/** When a file is seen that is fetched over a line. */
export interface LoadTime {
  /** Until its first picture is there, seconds. */
  readonly firstSeconds: number;
  /** Until all of it is, and nothing stops any more. */
  readonly wholeSeconds: number;
}

const BITS = 8;

/**
 * Worked out from a file's own bytes: what stands before its first frame, the frame itself, and all of it.
 * @param megabits a second.
 */
export function loadTimeOf(
  { bytes, frameBytes, frames }: Pick<TrialFigures, 'bytes' | 'frameBytes' | 'frames'>,
  megabits: number,
): LoadTime {
  const seconds = (count: number) => (count * BITS) / (megabits * 1e6);
  // Of a movie that stands for several rounds, one round was counted.
  const rounds = frameBytes.length > 0 ? Math.max(1, Math.round(frames / frameBytes.length)) : 1;
  const pictures = frameBytes.reduce((sum, one) => sum + one, 0) * rounds;
  const before = Math.max(0, bytes - pictures);
  return {
    firstSeconds: seconds(Math.min(bytes, before + (frameBytes[0] ?? bytes))),
    wholeSeconds: seconds(bytes),
  };
}
