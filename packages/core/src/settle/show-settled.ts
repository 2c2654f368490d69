import { pixelWords } from '../pixels/index.js';
import type { SettledReel } from './settle.js';

/**
 * Writes the colour of every segment into all frames in which it goes on: then the frames are whole pictures
 * again.
 * @throws RangeError where pixels go out of sight: what is clear is not a colour.
 */
export function showSettled({ frames, durations, cleared }: SettledReel): void {
  if (cleared) throw new RangeError('Only opaque reels are shown again.');
  for (let f = 1; f < frames.length; f++) {
    const before = pixelWords(frames[f - 1]);
    const now = pixelWords(frames[f]);
    const begun = durations[f];
    for (let p = 0; p < now.length; p++) if (begun[p] === 0) now[p] = before[p];
  }
}
