import { partsOf, type ReelFrame } from '@muted-pond/core/timing';

/** A frame of the take that is laid over those before it. */
export interface OverlaidPart {
  readonly source: number;
  /** How much it covers, 0–1. */
  readonly alpha: number;
}

/** What a frame of the reel is made of, as layers that together make its mixture. */
export function overlaidParts(pick: ReelFrame): OverlaidPart[] {
  let below = 0;
  return partsOf(pick).map(({ source, share }): OverlaidPart => {
    below += share;
    return { source, alpha: below > 0 ? share / below : 0 };
  });
}
