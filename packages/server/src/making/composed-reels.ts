import type { PixelFrame } from '@muted-pond/core/pixels';

/** What one worker keeps at most, bytes. */
const MOST_BYTES = 384 * 1024 ** 2;

/**
 * Reels that were decoded and composed a moment ago: changing colours or dither then starts from them. The oldest
 * go first; a reel larger than the limit is not kept.
 */
export class ComposedReels {
  private readonly reels = new Map<string, readonly PixelFrame[]>();
  private bytes = 0;

  get(key: string): readonly PixelFrame[] | null {
    const frames = this.reels.get(key);
    if (!frames) return null;
    this.reels.delete(key);
    this.reels.set(key, frames);
    return frames;
  }

  put(key: string, frames: readonly PixelFrame[]): void {
    const size = bytesOf(frames);
    if (size > MOST_BYTES || this.reels.has(key)) return;
    this.reels.set(key, frames);
    this.bytes += size;
    for (const [oldest, old] of this.reels) {
      if (this.bytes <= MOST_BYTES) break;
      this.reels.delete(oldest);
      this.bytes -= bytesOf(old);
    }
  }
}

function bytesOf(frames: readonly PixelFrame[]): number {
  return frames.reduce((sum, frame) => sum + frame.rgba.length, 0);
}
