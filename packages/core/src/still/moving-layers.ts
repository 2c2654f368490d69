import { ownReel } from '../loop/index.js';
import type { FrameTimes, Reel } from '../timing/index.js';
import type { Ripple } from './ripple.js';

/** What is laid over the plate: some ripples, and what they show at each place of the reel. */
export interface MovingLayer {
  readonly ripples: readonly Ripple[];
  readonly reel: Reel;
}

/**
 * The layers of a held picture, the lowest first: all ripples that loop with the reel together, then each
 * that has a round of its own. Hidden ripples are left out.
 * @param reel repeats included.
 * @param round frames of one round of it.
 * @param isSmooth whether pictures are made between frames of the take.
 */
export function movingLayers(
  ripples: readonly Ripple[],
  reel: Reel,
  round: number,
  times: FrameTimes,
  isSmooth: boolean,
): MovingLayer[] {
  const shown = ripples.filter((ripple) => ripple.shown);
  const common = shown.filter((ripple) => ripple.loop === null);
  const layers: MovingLayer[] = common.length > 0 ? [{ ripples: common, reel }] : [];
  for (const ripple of shown) {
    if (!ripple.loop) continue;
    const own = ownReel(times, reel.slice(0, round), ripple.loop, isSmooth);
    const repeats = Math.max(1, Math.round(reel.length / round));
    layers.push({ ripples: [ripple], reel: Array.from({ length: repeats }, () => own).flat() });
  }
  return layers;
}
