import type { PixelFrame } from '@muted-pond/core/pixels';
import type { StepFigures } from '@muted-pond/core/render';

/** Finished frames of a reel, and what was measured on the way. */
export interface KeptReel {
  readonly frames: readonly PixelFrame[];
  readonly figures: StepFigures;
  /** Whether any pixel is not opaque. */
  readonly seeThrough: boolean;
}

/** What one worker keeps at most, bytes. */
const MOST_BYTES = 384 * 1024 ** 2;

/**
 * Reels that were decoded and composed a moment ago: changing colours or dither then starts from them. The oldest
 * go first; a reel larger than the limit is not kept.
 */
export class ComposedReels {
  private readonly reels = new Map<string, KeptReel>();
  private bytes = 0;

  get(key: string): KeptReel | null {
    const reel = this.reels.get(key);
    if (!reel) return null;
    this.reels.delete(key);
    this.reels.set(key, reel);
    return reel;
  }

  put(key: string, reel: KeptReel): void {
    const size = bytesOf(reel.frames);
    if (size > MOST_BYTES || this.reels.has(key)) return;
    this.reels.set(key, reel);
    this.bytes += size;
    for (const [oldest, old] of this.reels) {
      if (this.bytes <= MOST_BYTES) break;
      this.reels.delete(oldest);
      this.bytes -= bytesOf(old.frames);
    }
  }
}

function bytesOf(frames: readonly PixelFrame[]): number {
  return frames.reduce((sum, frame) => sum + frame.rgba.length, 0);
}
