/** Something a handle stops at: where, and what it is called. */
export interface Mark {
  readonly boundary: number;
  readonly name: string;
}

/** How near a handle must come to be caught, px. */
const REACH_PX = 7;

/** The mark that catches a handle, if one is near enough; of several the nearest. */
export function markNear(
  marks: readonly Mark[],
  boundary: number,
  pxBetween: (a: number, b: number) => number,
): Mark | null {
  let best: Mark | null = null;
  let nearest = REACH_PX;
  for (const mark of marks) {
    const distance = Math.abs(pxBetween(mark.boundary, boundary));
    if (distance > nearest) continue;
    nearest = distance;
    best = mark;
  }
  return best;
}
