import type { FrameTimes, Reel, Span } from '../../timing/index.js';

/** What a join needs to know of the reel it closes. */
export interface JoinContext {
  readonly times: FrameTimes;
  readonly span: Span;
  /** Whether the reel runs from the span's end to its start. */
  readonly reverse: boolean;
}

/** A way to make the last frame of a reel meet the first. */
export interface Join<Settings> {
  /** The most that the setting of length can be here; 0 where the join cannot be made. */
  readonly longest: (reel: Reel, context: JoinContext) => number;
  readonly apply: (reel: Reel, settings: Settings, context: JoinContext) => Reel;
}
