import { SHORTEST_HONEST_DELAY_CS, shareCentiseconds } from './centiseconds.js';
import { boundaryTime, type FrameTimes, nearestFrame, type Span, spanSeconds } from './span.js';

/** Another source frame that shines through. */
export interface Blend {
  readonly source: number;
  /** How much of it is seen, 0–1. */
  readonly share: number;
}

/** One frame of the reel: which source frame it shows, and for how many centiseconds. */
export interface Pick {
  readonly source: number;
  readonly delayCs: number;
  readonly blend?: Blend;
}

export type Reel = readonly Pick[];

/** Frames a second; or `source`: every frame for as long as the source shows it. */
export type FrameRate = number | 'source';

/** Which frames of a span are taken, how fast, and which way round. */
export interface Pace {
  /** 1 takes all source frames, n the span's first and then every n-th, each shown until the next. */
  readonly every?: number;
  /** The span's length divided by the reel's. */
  readonly speed?: number;
  /** Last frame first. */
  readonly reverse?: boolean;
}

/**
 * The reel of a span at a frame rate. Frames are the nearest ones, never blends; neighbours that
 * show the same source frame become one with the longer delay. The delays add up to the span's length to the
 * centisecond.
 * @param rate above 0, at most 50 (2 cs, the shortest delay viewers play as written); or `source`.
 * @throws RangeError for a span outside the footage, a rate or a speed out of range.
 */
export function makeReel(times: FrameTimes, span: Span, rate: FrameRate, pace: Pace = {}): Reel {
  const { reverse = false } = pace;
  const forward = forwardReel(times, span, rate, pace);
  return reverse ? [...forward].reverse() : forward;
}

function forwardReel(times: FrameTimes, span: Span, rate: FrameRate, { every = 1, speed = 1 }: Pace): Reel {
  const frameCount = times.starts.length;
  if (span.start < 0 || span.end > frameCount || span.end <= span.start) {
    throw new RangeError(
      `The span ${span.start}–${span.end} does not lie within the ${frameCount} frames of the footage. Set start and end anew.`,
    );
  }
  if (!(speed > 0 && Number.isFinite(speed))) {
    throw new RangeError(`A speed of ${speed} cannot be shown; choose one above 0.`);
  }
  if (rate === 'source') return sourceReel(times, span, every, speed);
  if (!(rate > 0 && rate <= 50)) {
    throw new RangeError(`A frame rate of ${rate} cannot be shown; choose one up to 50.`);
  }
  const seconds = spanSeconds(times, span);
  const totalCs = wholeCentiseconds(seconds / speed);
  const wanted = Math.round((seconds / speed) * rate);
  const count = Math.max(1, Math.min(wanted, Math.floor(totalCs / SHORTEST_HONEST_DELAY_CS)));
  const delays = shareCentiseconds(totalCs, count);
  const from = boundaryTime(times, span.start);

  const reel: { source: number; delayCs: number }[] = [];
  for (let frame = 0; frame < count; frame++) {
    const nearest = nearestFrame(times, from + (frame * seconds) / count);
    const source = takenFrame(Math.max(span.start, Math.min(span.end - 1, nearest)), span.start, every);
    const last = reel.at(-1);
    if (last?.source === source) last.delayCs += delays[frame];
    else reel.push({ source, delayCs: delays[frame] });
  }
  return reel;
}

/** The frame that stands for a source frame when only every n-th from the start is taken. */
export function takenFrame(frame: number, start: number, every: number): number {
  return start + Math.floor((frame - start) / every) * every;
}

/**
 * Each source frame until the next one, in whole centiseconds whose sum is the span's length. Frames that
 * would be shown for less than viewers play honestly are left out; the one before stays for longer.
 */
function sourceReel(times: FrameTimes, span: Span, every: number, speed: number): Reel {
  const from = boundaryTime(times, span.start);
  const totalCs = wholeCentiseconds(spanSeconds(times, span) / speed);
  const begins: { source: number; atCs: number }[] = [];
  for (let source = span.start; source < span.end; source += every) {
    const atCs = Math.round(((times.starts[source] - from) / speed) * 100);
    const last = begins.at(-1);
    if (last && atCs - last.atCs < SHORTEST_HONEST_DELAY_CS) continue;
    if (last && totalCs - atCs < SHORTEST_HONEST_DELAY_CS) continue;
    begins.push({ source, atCs });
  }
  return begins.map(({ source, atCs }, i) => ({
    source,
    delayCs: (begins[i + 1]?.atCs ?? totalCs) - atCs,
  }));
}

function wholeCentiseconds(seconds: number): number {
  return Math.max(SHORTEST_HONEST_DELAY_CS, Math.round(seconds * 100));
}

/** How long a reel is shown, in centiseconds. */
export function reelCentiseconds(reel: Reel): number {
  return reel.reduce((sum, pick) => sum + pick.delayCs, 0);
}
