/**
 * How far frames lay from the plate before they were aligned and lie after, root mean square, px of the
 * source.
 */
export interface SteadyFigures {
  readonly beforePx: number;
  readonly afterPx: number;
  readonly frames: number;
  /** Frames whose place could not be found; they were left as they are. */
  readonly untrusted: number;
}

/** How far brightness is off the plate's along the ripples' edges, levels: the worst frame. */
export interface LightFigures {
  readonly before: number;
  readonly after: number;
}
