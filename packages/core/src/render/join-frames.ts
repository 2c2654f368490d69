import { blendFrames, type PixelFrame } from '../pixels/index.js';
import type { Reel } from '../timing/index.js';

/** The source frames a reel shows, mixed in or alone, each once, ascending. */
export function sourcesOf(reel: Reel): number[] {
  const sources = new Set<number>();
  for (const { source, blend } of reel) {
    sources.add(source);
    if (blend) sources.add(blend.source);
  }
  return [...sources].sort((a, b) => a - b);
}

/** The join step: composed source frames to the frames of the reel. A frame shown twice stands there twice. */
export function joinFrames(reel: Reel, composed: (source: number) => PixelFrame): PixelFrame[] {
  const mixed = new Map<string, PixelFrame>();
  return reel.map(({ source, blend }) => {
    if (!blend) return composed(source);
    // Repeats and copies share what was mixed once.
    const key = `${source} ${blend.source} ${blend.share}`;
    const there = mixed.get(key);
    if (there) return there;
    const frame = blendFrames(composed(source), composed(blend.source), blend.share);
    mixed.set(key, frame);
    return frame;
  });
}
