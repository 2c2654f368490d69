import type { VeilKey } from '../dress/index.js';
import type { JobView } from './job-view.js';

/** A veil that follows what it hides: being worked on, or what came of it. */
export interface FollowView extends JobView {
  readonly veil: string;
  /** Where it was begun, and which way it goes. */
  readonly frame: number;
  readonly way: FollowWay;
  /** Where it was found, rising by frame; the frame it began at is among them. */
  readonly keys: readonly VeilKey[];
  /** How sure it was, 0–1, for each frame that was looked at, the first one first. */
  readonly confidence: readonly number[];
  /** The frame from which it was not found any more; null where it went as far as it should. */
  readonly lostAt: number | null;
  /** The next frame on its way where a hand has set a place: it goes no farther. Null where none was. */
  readonly handSetAt: number | null;
}

export const FOLLOW_WAYS = ['forwards', 'backwards'] as const;

export type FollowWay = (typeof FOLLOW_WAYS)[number];
