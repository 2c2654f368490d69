import { SHORTEST_HONEST_DELAY_CS, shareCentiseconds } from './centiseconds.js';
import { boundaryTime, type FrameTimes, nearestFrame, type Span, spanSeconds } from './span.js';

/** One frame of the reel: which source frame it shows, and for how many centiseconds. */
export interface Pick {
  readonly source: number;
  readonly delayCs: number;
}

export type Reel = readonly Pick[];

/**
 * The reel of a span at a frame rate. Frames are the nearest ones, never blends; neighbours that
 * show the same source frame become one with the longer delay. The delays add up to the span's length to the
 * centisecond.
 * @param framesPerSecond above 0, at most 50 (2 cs, the shortest delay viewers play as written).
 * @throws RangeError for a span outside the footage or a rate out of range.
 */
export function makeReel(times: FrameTimes, span: Span, framesPerSecond: number): Reel {
  const frameCount = times.starts.length;
  if (span.start < 0 || span.end > frameCount || span.end <= span.start) {
    throw new RangeError(
      `The span ${span.start}–${span.end} does not lie within the ${frameCount} frames of the footage. Set start and end anew.`,
    );
  }
  if (!(framesPerSecond > 0 && framesPerSecond <= 50)) {
    throw new RangeError(`A frame rate of ${framesPerSecond} cannot be shown; choose one up to 50.`);
  }
  const seconds = spanSeconds(times, span);
  const totalCs = Math.max(SHORTEST_HONEST_DELAY_CS, Math.round(seconds * 100));
  const wanted = Math.round(seconds * framesPerSecond);
  const count = Math.max(1, Math.min(wanted, Math.floor(totalCs / SHORTEST_HONEST_DELAY_CS)));
  const delays = shareCentiseconds(totalCs, count);
  const from = boundaryTime(times, span.start);

  const reel: { source: number; delayCs: number }[] = [];
  for (let frame = 0; frame < count; frame++) {
    const wantedSource = nearestFrame(times, from + (frame * seconds) / count);
    const source = Math.max(span.start, Math.min(span.end - 1, wantedSource));
    const last = reel.at(-1);
    if (last?.source === source) last.delayCs += delays[frame];
    else reel.push({ source, delayCs: delays[frame] });
  }
  return reel;
}

/** How long a reel is shown, in centiseconds. */
export function reelCentiseconds(reel: Reel): number {
  return reel.reduce((sum, pick) => sum + pick.delayCs, 0);
}
