import type { PlannedReel } from '../palette/index.js';
import { boundsOf } from './bounds.js';
import { type FramePalette, NOTHING } from './reel-colours.js';
import type { Rect } from './writer.js';

/** What must be drawn at a frame, in the terms of PlannedReel. */
export interface PlannedFrame {
  readonly plan: Uint8Array;
  readonly durations: Uint16Array;
}

/** Keeps account of a reel whose pixels go out of sight and come back. */
export interface AlphaReel {
  /** What a frame needs: its own segments, and what disposal took away though it should still be seen. */
  planned(frame: number): PlannedFrame;
  /** Where pixels go out of sight with the next frame, so that this one must be disposed of there. */
  clearedAfter(frame: number): Rect | null;
  /** The viewer takes a rectangle away (disposal to transparency). */
  dispose(rect: Rect): void;
}

/** @param shown what the viewer has on screen, as ids; follows what is disposed of. */
export function createAlphaReel(
  reel: PlannedReel,
  palettes: readonly FramePalette[],
  shown: Uint32Array,
): AlphaReel {
  const { width, height, plans, durations, cleared } = reel;
  const pixels = width * height;
  /** The id each pixel should show, and until which frame. */
  const wanted = new Uint32Array(pixels).fill(NOTHING);
  const until = new Uint32Array(pixels);
  let lost: Rect | null = null;

  function follow(frame: number): void {
    const { ids } = palettes[reel.paletteOf[frame]];
    for (let p = 0; p < pixels; p++) {
      if (cleared?.[frame][p]) wanted[p] = NOTHING;
      else if (durations[frame][p] > 0) {
        wanted[p] = ids[plans[frame][p]];
        until[p] = frame + durations[frame][p];
      }
    }
  }

  return {
    planned(frame) {
      follow(frame);
      if (!lost) return { plan: plans[frame], durations: durations[frame] };
      const palette = palettes[reel.paletteOf[frame]];
      const plan = plans[frame].slice();
      const left = durations[frame].slice();
      for (let y = lost.top; y < lost.top + lost.height; y++) {
        for (let p = y * width + lost.left; p < y * width + lost.left + lost.width; p++) {
          if (wanted[p] === NOTHING || left[p] > 0) continue;
          plan[p] = palette.nearestTo(wanted[p]);
          left[p] = until[p] - frame;
        }
      }
      lost = null;
      return { plan, durations: left };
    },
    clearedAfter(frame) {
      const next = cleared?.[frame + 1];
      return next ? boundsOf(width, height, (p) => next[p] === 1) : null;
    },
    dispose(rect) {
      lost = rect;
      for (let y = rect.top; y < rect.top + rect.height; y++) {
        shown.fill(NOTHING, y * width + rect.left, y * width + rect.left + rect.width);
      }
    },
  };
}
