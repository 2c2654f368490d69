import type { PlannedReel } from '../palette/index.js';
import { boundsOf } from './bounds.js';
import type { Rect } from './writer.js';

/** What must be drawn at a frame, in the terms of PlannedReel. */
interface Due {
  readonly plan: Uint8Array;
  readonly durations: Uint16Array;
}

/** Keeps account of a reel whose pixels go out of sight and come back. */
export interface SeeThrough {
  /** What the viewer has on screen; the transparent index where that is nothing. */
  readonly shown: Uint8Array;
  /** What a frame needs: its own segments, and what disposal took away though it should still be seen. */
  due(frame: number): Due;
  /** Where pixels go out of sight with the next frame, so that this one must be disposed of there. */
  clearedAfter(frame: number): Rect | null;
  /** The viewer takes a rectangle away (disposal to transparency). */
  dispose(rect: Rect): void;
}

export function createSeeThrough(reel: PlannedReel, transparent: number): SeeThrough {
  const { width, height, plans, durations, cleared } = reel;
  const pixels = width * height;
  const shown = new Uint8Array(pixels).fill(transparent);
  /** The index each pixel should show, and until which frame. */
  const wanted = new Uint8Array(pixels).fill(transparent);
  const until = new Uint32Array(pixels);
  let lost: Rect | null = null;

  function follow(frame: number): void {
    for (let p = 0; p < pixels; p++) {
      if (cleared?.[frame][p]) wanted[p] = transparent;
      else if (durations[frame][p] > 0) {
        wanted[p] = plans[frame][p];
        until[p] = frame + durations[frame][p];
      }
    }
  }

  return {
    shown,
    due(frame) {
      follow(frame);
      if (!lost) return { plan: plans[frame], durations: durations[frame] };
      const plan = plans[frame].slice();
      const left = durations[frame].slice();
      for (let y = lost.top; y < lost.top + lost.height; y++) {
        for (let p = y * width + lost.left; p < y * width + lost.left + lost.width; p++) {
          if (wanted[p] === transparent || left[p] > 0) continue;
          plan[p] = wanted[p];
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
        shown.fill(transparent, y * width + rect.left, y * width + rect.left + rect.width);
      }
    },
  };
}
