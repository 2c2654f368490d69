import { UserError } from '@muted-pond/core/errors';
import type { Size } from '@muted-pond/core/pixels';
import type { AnimationFacts, FrameClock } from '../decoder/index.js';

/** Pixels × frames of an animation: ten minutes at 320 × 240 and 30 frames a second, 54 s at 1280 × 720. */
export const MOST_UNPACKED = 1.5e9;

export function tooMuchToUnpack(name: string, frames: number, { width, height }: Size): UserError {
  return new UserError(
    'too_many_pixels',
    `“${name}” holds ${frames} frames of ${width} × ${height} px, more than can be unpacked. Make a smaller or shorter version of it.`,
  );
}

/** Delays up to this are shown as 100 ms by common viewers. */
const DISHONEST_MS = 10;
const SHOWN_MS = 100;

/**
 * A clock in milliseconds from frame delays; those that viewers do not honour are taken as they are shown.
 */
export function clockOfDelays(
  delaysMs: readonly number[],
): FrameClock & Pick<AnimationFacts, 'mendedDelays'> {
  const honest = delaysMs.map((delay) => (delay <= DISHONEST_MS ? SHOWN_MS : delay));
  const ticks: number[] = [];
  let at = 0;
  for (const delay of honest) {
    ticks.push(at);
    at += delay;
  }
  const mendedDelays = delaysMs.filter((delay) => delay <= DISHONEST_MS).length;
  return { timeBase: [1, 1000], ticks, durationTicks: at, mendedDelays };
}
