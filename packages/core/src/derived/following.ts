import type { ShareRect } from '../dress/index.js';
import { type Derivation, identityOf } from '../identity/index.js';

const FOLLOWING: Derivation = { name: 'following', version: 1 };

/** A region of footage that is followed. */
export interface FollowedRegion {
  /** SHA-256 of the footage. */
  readonly footage: string;
  /** Where it lies on the first frame. */
  readonly region: ShareRect;
  readonly frame: number;
  /** The last frame that is looked at; before the first one where it is followed backwards. */
  readonly last: number;
}

/** Where a region of footage is found, frame by frame. */
export function followingKey({ footage, region, frame, last }: FollowedRegion): string {
  return identityOf(FOLLOWING, { footage, region, frame, last });
}
