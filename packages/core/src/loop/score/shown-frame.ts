import type { Reel, ReelFrame } from '../../timing/index.js';
import { type Look, type Looks, mapLook } from './look.js';

/** One frame of a reel as it is seen. */
export interface ShownFrame {
  readonly look: Look;
  /** The two pictures that shine through each other; null where nothing is mixed. */
  readonly mixed: { readonly under: Look; readonly over: Look; readonly share: number } | null;
  readonly seconds: number;
}

/**
 * Some frames of a round, by their places in it.
 * @returns null where a frame of the take is not at hand.
 */
export function shownFrames(
  looks: Looks,
  round: Reel,
  places: readonly number[],
): ReadonlyMap<number, ShownFrame> | null {
  const shown = new Map<number, ShownFrame>();
  for (const place of places) {
    const frame = shownFrame(looks, round[place]);
    if (!frame) return null;
    shown.set(place, frame);
  }
  return shown;
}

function shownFrame(looks: Looks, { source, delayCs, blend }: ReelFrame): ShownFrame | null {
  const seconds = delayCs / 100;
  const under = looks.at(source);
  if (!under) return null;
  if (!blend || blend.share === 0) return { look: under, mixed: null, seconds };
  const over = looks.at(blend.source);
  if (!over) return null;
  const { share } = blend;
  const look = mapLook(under, (plane) =>
    under[plane].values.map((value, p) => value + share * (over[plane].values[p] - value)),
  );
  return { look, mixed: { under, over, share }, seconds };
}
