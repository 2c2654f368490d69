import {
  assertOneSize,
  type PixelFrame,
  pixelWords,
  SINGLE_THREAD,
  type ThreadPool,
} from '../pixels/index.js';
import { cutAtClear, takeOutClear } from './clear.js';
import { createKernelStrip } from './fast-strip.js';
import { type Looked, lookAt } from './first-look.js';
import type { Masking } from './masking.js';
import { createPlainStrip } from './plain-strip.js';
import { redrawCosts, type SettleStrip, type StripWork } from './strip-work.js';

/**
 * Every pixel's history cut into segments of constant colour.
 *
 * The colours stand in the frames themselves: where `durations[f][p] > 0`, a segment begins at frame
 * `f`, pixel `p`, and `frames[f]` holds its colour there; elsewhere the segment goes on and the
 * frame's own bytes mean nothing any more. Durations are in frames.
 */
export interface SettledReel extends Masking {
  readonly frames: readonly PixelFrame[];
  readonly durations: readonly Uint16Array[];
  /**
   * `cleared[f][p]` is 1 where the pixel goes out of sight at frame `f`, until its next segment; null when
   * all is opaque.
   */
  readonly cleared: readonly Uint8Array[] | null;
  /** The first frame of each scene, rising from 0. */
  readonly scenes: readonly number[];
}

/**
 * Rows are worked in strips of this many, each on its own, so that the result is the same however
 * many workers share the strips.
 */
export const STRIP_ROWS = 32;

/** How a reel is settled. */
export interface SettleOptions {
  /**
   * The threads that share the work; with more than one, the frames' bytes must lie in memory from
   * `allocate`.
   */
  readonly threads?: ThreadPool;
  /** Whether it is known that every pixel is opaque; then nobody looks. */
  readonly isOpaque?: boolean;
  /**
   * Discount on the cost of a redrawn pixel beside other redrawn ones, 0–1: 1 where neighbours are merged
   * into LZW strings, 0 where each pixel is coded by itself.
   */
  readonly merging?: number;
  /**
   * What was measured on the frames as they came, where they are opaque; without it they are measured now.
   */
  readonly looked?: Looked;
}

/** What one thread settles strips with: the kernel, or plain TypeScript where that cannot run. */
export function startSettling(work: StripWork): (strip: number) => void {
  const run: SettleStrip = createKernelStrip(work) ?? createPlainStrip(work);
  return (strip) => {
    const top = strip * STRIP_ROWS;
    run(top, Math.min(STRIP_ROWS, work.height - top));
  };
}

/**
 * Makes every pixel piecewise constant in time, so that the sum of what the eye loses and what redrawing
 * costs is least: squared error against each segment's mean (weighted by what texture hides), plus a price
 * for every redrawing. Judging by source change and never by the displayed colour keeps still areas
 * bit-identical under every dither. Each scene is settled by itself: no segment goes on across a cut.
 *
 * Works in place: the frames are overwritten (see SettledReel).
 * @param levels the change, in sRGB levels, that is redrawn even if it lasts for one frame only; 0 keeps all.
 * @throws RangeError for an empty reel, unequal sizes or more than 65535 frames.
 */
export function settle(
  frames: readonly PixelFrame[],
  levels: number,
  { threads = SINGLE_THREAD, isOpaque = false, merging = 0, looked }: SettleOptions = {},
): SettledReel {
  assertOneSize(frames);
  if (frames.length > 65535) throw new RangeError(`${frames.length} frames are too many; at most 65535.`);
  const { width, height } = frames[0];
  const pixels = width * height;
  const cleared = isOpaque ? null : takeOutClear(frames);
  const durations = frames.map(() => new Uint16Array(threads.allocate(pixels * 2)));
  const masking = new Float32Array(threads.allocate(pixels * 4));
  const chroma = new Uint8Array(threads.allocate(pixels));
  const { scenes, ...measured } = looked ?? lookAt(frames);
  masking.set(measured.masking);
  chroma.set(measured.chroma);
  for (const { start, end } of scenes) {
    const scene = { frames: frames.slice(start, end), durations: durations.slice(start, end) };
    if (levels <= 0) {
      settleExactly(scene.frames, scene.durations);
      continue;
    }
    const work: StripWork = {
      ...{ kind: 'settle', masking, width, height, ...scene },
      mostRows: Math.min(STRIP_ROWS, height),
      price: levels ** 2,
      costs: redrawCosts(merging),
    };
    threads.run(work, Math.ceil(height / STRIP_ROWS), startSettling);
  }
  if (cleared) cutAtClear(frames, durations, cleared);
  return { frames, durations, cleared, scenes: scenes.map(({ start }) => start), masking, chroma };
}

/** No tolerance: a segment ends where the colour changes at all. */
function settleExactly(frames: readonly PixelFrame[], durations: readonly Uint16Array[]): void {
  const words = frames.map(pixelWords);
  const pixels = words[0].length;
  for (let p = 0; p < pixels; p++) {
    let began = 0;
    for (let f = 1; f <= frames.length; f++) {
      if (f < frames.length && words[f][p] === words[began][p]) continue;
      durations[began][p] = f - began;
      began = f;
    }
  }
}
