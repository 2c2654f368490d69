import type { Crossfade } from './crossfade.js';
import type { ThereAndBack } from './there-and-back.js';

export interface Cut {
  readonly kind: 'cut';
}

/** How the end of the reel meets its start. */
export type JoinSettings = Cut | Crossfade | ThereAndBack;

export const JOIN_KINDS = [
  'cut',
  'crossfade',
  'there-and-back',
] as const satisfies readonly JoinSettings['kind'][];

export { type Crossfade, crossfade } from './crossfade.js';
export { type ThereAndBack, wayBack } from './there-and-back.js';
