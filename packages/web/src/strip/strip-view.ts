import { boundaryTime, type FrameTimes, frameAt } from '@muted-pond/core/timing';
import type { StripView } from '../store/session-store.js';

/** Frames that still fill the strip when it is closest. */
const CLOSEST_FRAMES = 8;

/** The whole take. */
export function wholeView({ duration }: FrameTimes): StripView {
  return { from: 0, to: duration };
}

/** The shortest stretch that is shown, seconds. */
export function closestSeconds({ duration, starts }: FrameTimes): number {
  return Math.min(duration, (duration / starts.length) * CLOSEST_FRAMES);
}

/** A stretch of the same length, or the nearest that can be shown, inside the take. */
export function fitView(view: StripView, times: FrameTimes): StripView {
  const length = Math.max(closestSeconds(times), Math.min(times.duration, view.to - view.from));
  const from = Math.max(0, Math.min(times.duration - length, view.from));
  return { from, to: from + length };
}

/**
 * Closer (factor below 1) or wider, so that the moment under the pointer stays there.
 * @param share where the pointer is along the strip, 0–1.
 */
export function zoomView(view: StripView, times: FrameTimes, factor: number, share: number): StripView {
  const length = view.to - view.from;
  const wanted = Math.max(closestSeconds(times), Math.min(times.duration, length * factor));
  const anchor = view.from + length * share;
  return fitView({ from: anchor - wanted * share, to: anchor + wanted * (1 - share) }, times);
}

/** Moved by a share of its own length. */
export function scrollView(view: StripView, times: FrameTimes, share: number): StripView {
  const by = (view.to - view.from) * share;
  return fitView({ from: view.from + by, to: view.to + by }, times);
}

/** Moved as little as needed to show a frame whole. */
export function showFrame(view: StripView, times: FrameTimes, frame: number): StripView {
  const from = boundaryTime(times, frame);
  const to = boundaryTime(times, frame + 1);
  const length = view.to - view.from;
  if (from < view.from) return fitView({ from: from - length * 0.1, to: from + length * 0.9 }, times);
  if (to > view.to) return fitView({ from: to - length * 0.9, to: to + length * 0.1 }, times);
  return view;
}

/** One picture of the strip: the frame it shows, and where it lies, 0–1 along what is shown. */
export interface StripTile {
  readonly frame: number;
  readonly left: number;
  readonly width: number;
}

/** Distances between frames that are shown, so that neighbouring zooms share their pictures. */
const STEPS = [5, 2, 1];

/**
 * The pictures that fill the strip side by side: each in the take's shape and showing the frame at its
 * middle; so close that a frame is wider than its picture, each frame has a place of its own.
 * @param pictures how many pictures of the take's shape the strip has room for.
 * @returns the tiles, and the distance in frames that their frames are multiples of.
 */
export function stripTiles(
  view: StripView,
  times: FrameTimes,
  pictures: number,
): { readonly tiles: StripTile[]; readonly step: number } {
  const length = view.to - view.from;
  const secondsOfTile = length / Math.max(1, pictures);
  const framesOfTile = (secondsOfTile * times.starts.length) / times.duration;
  if (framesOfTile <= 1) return { tiles: tilePerFrame(view, times), step: 1 };
  const step = roundStep(framesOfTile);
  const last = times.starts.length - 1;
  const tiles: StripTile[] = [];
  // Counted from the take's beginning, so that pictures move with what is shown.
  for (let k = Math.floor(view.from / secondsOfTile); k * secondsOfTile < view.to - 1e-9; k++) {
    const middle = frameAt(times, Math.min(times.duration, (k + 0.5) * secondsOfTile));
    tiles.push({
      frame: Math.min(last, Math.round(middle / step) * step),
      left: (k * secondsOfTile - view.from) / length,
      width: secondsOfTile / length,
    });
  }
  return { tiles, step };
}

function tilePerFrame(view: StripView, times: FrameTimes): StripTile[] {
  const length = view.to - view.from;
  const tiles: StripTile[] = [];
  for (let frame = frameAt(times, view.from); frame < times.starts.length; frame++) {
    const starts = boundaryTime(times, frame);
    if (starts >= view.to - 1e-9) break;
    const ends = boundaryTime(times, frame + 1);
    tiles.push({ frame, left: (starts - view.from) / length, width: (ends - starts) / length });
  }
  return tiles;
}

/** The largest of 1, 2, 5, 10, 20, 50 … that is not above. */
function roundStep(wanted: number): number {
  const power = 10 ** Math.floor(Math.log10(wanted));
  return power * (STEPS.find((step) => step * power <= wanted + 1e-9) ?? 1);
}
