import type { Span } from '../../timing/index.js';
import type { Look, MovementFinder } from '../looks/index.js';
import type { MeasuredTake } from './reel-seam.js';
import { mixedLook, momentLook } from './shown-frame.js';

/** How well pictures between the frames of some footage can be made: frames that are there are left out and made again. */
export interface Smoothness {
  /** Peak signal-to-noise ratio of the luma of those that are led, dB; and of mixtures of the two beside them. */
  readonly led: number;
  readonly mixed: number;
}

/** Frames that are left out, spread over the span. */
const TRIED = 5;
/** Led pictures do well from here on, dB, as long as they are not worse than mixtures by more than the second. */
const GOOD = 30;
const MOST_LOST = 0.3;

/** Whether a slowed reel should show pictures in between. */
export function isSmoothGood({ led, mixed }: Smoothness): boolean {
  return led >= GOOD && led >= mixed - MOST_LOST;
}

/**
 * @param every frames from one that is taken to the next.
 * @returns null where the span has no three taken frames, or they are not at hand.
 * @throws what loading throws.
 */
export async function measureSmoothness(
  { looks, load, finder }: MeasuredTake,
  { start, end }: Span,
  every: number,
): Promise<Smoothness | null> {
  const inside = Math.floor((end - 1 - start) / every) - 1;
  if (inside < 1) return null;
  const tried = Math.min(TRIED, inside);
  const middles = Array.from(
    { length: tried },
    (_, k) => start + every * (1 + Math.floor(((k + 0.5) * inside) / tried)),
  );
  await load(middles.flatMap((frame) => [frame - every, frame, frame + every]));
  const errors = middles.map((frame) => {
    const [before, there, after] = [frame - every, frame, frame + every].map((one) => looks.at(one));
    return before && there && after ? errorsOf(finder, before, there, after) : null;
  });
  const known = errors.filter((error) => error !== null);
  if (known.length === 0) return null;
  const ratio = (of: 'led' | 'mixed') => {
    const mean = known.reduce((sum, error) => sum + error[of], 0) / known.length;
    return 10 * Math.log10(255 ** 2 / Math.max(LEAST, mean));
  };
  return { led: ratio('led'), mixed: ratio('mixed') };
}

/** Rounding to levels alone makes so much, levels². */
const LEAST = 1 / 12;

function errorsOf(finder: MovementFinder, before: Look, there: Look, after: Look) {
  return {
    led: squaresBetween(momentLook(finder, before, after, 0.5), there),
    mixed: squaresBetween(mixedLook(before, after, 0.5), there),
  };
}

function squaresBetween({ luma: a }: Look, { luma: b }: Look): number {
  return a.values.reduce((sum, value, p) => sum + (value - b.values[p]) ** 2, 0) / a.values.length;
}
