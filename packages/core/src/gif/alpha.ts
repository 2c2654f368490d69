import { createNearestColour, type NearestColour, type PlannedReel } from '../palette/index.js';
import { pixelWords, type Rgb } from '../pixels/index.js';
import { boundsOf } from './bounds.js';
import { type FrameDraft, NOTHING, shownColour } from './draw-work.js';
import type { Rect } from './writer.js';

/** Tracks the pixels of a reel that become transparent and opaque again. */
export interface AlphaReel {
  /** What a frame must draw: its own segments, and what disposal cleared though it should still be seen. */
  planned(frame: number): FrameDraft;
  /** Where pixels become transparent in the next frame, so that this one must be disposed of there. */
  clearedAfter(frame: number): Rect | null;
  /** The viewer clears a rectangle (disposal to transparency). */
  dispose(rect: Rect): void;
}

/** @param shown what the viewer has on screen; follows what is disposed of. */
export function createAlphaReel(reel: PlannedReel, shown: Uint32Array): AlphaReel {
  const { width, height, frames, plans, durations, cleared, palettes, paletteOf } = reel;
  const pixels = width * height;
  const colours = palettes.map((palette) => palette.map(shownColour));
  /** The palette colour that each pixel should show, its settled colour, and until which frame. */
  const wanted = new Uint32Array(pixels).fill(NOTHING);
  const settled = new Uint32Array(pixels);
  const until = new Uint32Array(pixels);
  let lost: Rect | null = null;

  function follow(frame: number): void {
    const words = pixelWords(frames[frame]);
    const entries = colours[paletteOf[frame]];
    for (let p = 0; p < pixels; p++) {
      if (cleared?.[frame][p]) wanted[p] = NOTHING;
      else if (durations[frame][p] > 0) {
        wanted[p] = entries[plans[frame][p]];
        settled[p] = words[p];
        until[p] = frame + durations[frame][p];
      }
    }
  }

  return {
    planned(frame) {
      follow(frame);
      const { rgba } = frames[frame];
      if (!lost) return { rgba, plan: plans[frame], durations: durations[frame] };
      const nearest = nearestIn(palettes[paletteOf[frame]]);
      const draft = { rgba: rgba.slice(), plan: plans[frame].slice(), durations: durations[frame].slice() };
      const words = new Uint32Array(draft.rgba.buffer);
      for (let y = lost.top; y < lost.top + lost.height; y++) {
        for (let p = y * width + lost.left; p < y * width + lost.left + lost.width; p++) {
          if (wanted[p] === NOTHING || draft.durations[p] > 0) continue;
          words[p] = settled[p];
          draft.plan[p] = nearest(wanted[p]);
          draft.durations[p] = until[p] - frame;
        }
      }
      lost = null;
      return draft;
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

/** The entry that is nearest to a colour as it stands on screen. */
function nearestIn(palette: readonly Rgb[]): (colour: number) => number {
  let nearest: NearestColour | null = null;
  return (colour) => {
    nearest ??= createNearestColour(palette);
    return nearest.find(colour & 255, (colour >> 8) & 255, (colour >> 16) & 255);
  };
}
