import { UserError } from '../errors/index.js';
import { CENTISECONDS, type DelayClock, fastestRate } from './delay-clock.js';
import { boundaryTime, type FrameTimes, nearestFrame, type Span, spanSeconds } from './span.js';
import { type Blend, momentBetween, type TakeMoment } from './take-moment.js';

/** One frame of the reel: what it shows, and for how many centiseconds; where the file counts finer, with decimals. */
export interface ReelFrame extends TakeMoment {
  readonly delayCs: number;
  readonly blend?: Blend;
  /** The name of the weave that says, part by part, which frames around it are shown instead. */
  readonly woven?: string;
}

export type Reel = readonly ReelFrame[];

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
  /** How finely the file counts time; whole centiseconds where not given. */
  readonly clock?: DelayClock;
  /** Whether frames of the reel that fall between two of the take are made; where not given, the nearest is shown. */
  readonly smooth?: Smooth;
}

/** Frames that are made in between. */
export interface Smooth {
  /** The frame that the last one of the span is on its way to; null where it stays. */
  readonly after: number | null;
}

/**
 * The reel of a span at a frame rate. Frames are the nearest ones to an even grid of that rate,
 * and each is shown at its own time, to the nearest tick of the file's clock: motion keeps its pace, whatever
 * the two rates are, and no frame stands twice. Where the source has fewer frames than the rate asks for, all
 * of them are shown. A smooth reel follows the even grid itself. The delays add up to the span's length to the tick.
 * @param rate above 0; what is more than the clock's shortest delay allows is lowered to that. Or `source`.
 * @throws UserError for a span outside the footage, a rate or a speed out of range.
 */
export function makeReel(times: FrameTimes, span: Span, rate: FrameRate, pace: Pace = {}): Reel {
  const { reverse = false } = pace;
  const forward = forwardReel(times, span, rate, pace);
  return reverse ? [...forward].reverse() : forward;
}

function forwardReel(
  times: FrameTimes,
  span: Span,
  rate: FrameRate,
  { every = 1, speed = 1, clock = CENTISECONDS, smooth }: Pace,
): Reel {
  const frameCount = times.starts.length;
  if (span.start < 0 || span.end > frameCount || span.end <= span.start) {
    throw new UserError(
      'span_outside',
      `The span ${span.start}–${span.end} does not lie within the ${frameCount} frames of the footage. Set start and end anew.`,
    );
  }
  if (!(speed > 0 && Number.isFinite(speed))) {
    throw new UserError('pace_impossible', `A speed of ${speed} cannot be shown; choose one above 0.`);
  }
  if (rate !== 'source' && !(rate > 0 && Number.isFinite(rate))) {
    throw new UserError('pace_impossible', `A frame rate of ${rate} cannot be shown; choose one above 0.`);
  }
  const seconds = spanSeconds(times, span);
  const ticks = (ofSource: number) => (ofSource / speed) * 100 * clock.ticksPerCs;
  const total = Math.max(clock.leastTicks, Math.round(ticks(seconds)));
  if (smooth && (rate !== 'source' || speed < 1)) {
    const taken = takenFrames(span, every);
    const shown =
      rate === 'source' ? taken.length / speed : (seconds / speed) * Math.min(rate, fastestRate(clock));
    const most = Math.floor(total / clock.leastTicks);
    const count = Math.max(1, Math.min(most, Math.round(shown)));
    return timeEvenly(smoothFrames(times, span, taken, count, smooth), total, clock);
  }
  const from = boundaryTime(times, span.start);
  const due = (source: number) => ticks(times.starts[source] - from);
  const chosen =
    rate === 'source'
      ? takenFrames(span, every)
      : framesOnGrid(
          times,
          span,
          every,
          Math.max(1, Math.round((seconds / speed) * Math.min(rate, fastestRate(clock)))),
        );
  return timeFrames(chosen, due, total, clock);
}

function takenFrames({ start, end }: Span, every: number): number[] {
  return Array.from({ length: Math.ceil((end - start) / every) }, (_, i) => start + i * every);
}

/** The frames nearest to `count` moments that are evenly spread over the span, each once. */
function framesOnGrid(times: FrameTimes, span: Span, every: number, count: number): number[] {
  const from = boundaryTime(times, span.start);
  const step = spanSeconds(times, span) / count;
  const chosen: number[] = [];
  for (let frame = 0; frame < count; frame++) {
    const nearest = nearestFrame(times, from + frame * step);
    const source = takenFrame(Math.max(span.start, Math.min(span.end - 1, nearest)), span.start, every);
    if (source !== chosen.at(-1)) chosen.push(source);
  }
  return chosen;
}

/** What lies at `count` moments that are evenly spread over the span. */
function smoothFrames(
  times: FrameTimes,
  span: Span,
  taken: readonly number[],
  count: number,
  { after }: Smooth,
): TakeMoment[] {
  const from = boundaryTime(times, span.start);
  const begins = taken.map((source) => boundaryTime(times, source) - from);
  const seconds = spanSeconds(times, span);
  let at = 0;
  return Array.from({ length: count }, (_, place): TakeMoment => {
    const due = (place * seconds) / count;
    while (at + 1 < taken.length && begins[at + 1] <= due) at++;
    const isLast = at + 1 === taken.length;
    const next = isLast ? after : taken[at + 1];
    if (next === null) return { source: taken[at] };
    const ends = isLast ? seconds : begins[at + 1];
    return momentBetween(taken[at], next, (due - begins[at]) / (ends - begins[at]));
  });
}

/** All shown for as long, to the tick. What stays as it was is shown for longer. */
function timeEvenly(moments: readonly TakeMoment[], total: number, { ticksPerCs }: DelayClock): Reel {
  const begins = moments.map((_, i) => Math.round((i * total) / moments.length));
  const kept = [...moments.keys()].filter(
    (i) => i === 0 || moments[i].toward !== undefined || moments[i].source !== moments[i - 1].source,
  );
  return kept.map((i, n) => ({
    ...moments[i],
    delayCs: ((begins[kept[n + 1]] ?? total) - begins[i]) / ticksPerCs,
  }));
}

/**
 * Each frame from its own time to that of the next, in ticks of the clock. Frames that would come more than
 * half the shortest delay late, since viewers do not honour shorter ones, are left out; the one before stays
 * for longer.
 */
function timeFrames(
  sources: readonly number[],
  dueTicks: (source: number) => number,
  total: number,
  { ticksPerCs, leastTicks }: DelayClock,
): Reel {
  const begins: { source: number; at: number }[] = [];
  for (const source of sources) {
    const due = dueTicks(source);
    const last = begins.at(-1);
    const at = Math.max(Math.round(due), last ? last.at + leastTicks : 0);
    const isLate = at - due > leastTicks / 2 + 1e-6 || total - at < leastTicks;
    if (!last || !isLate) begins.push({ source, at });
  }
  return begins.map(({ source, at }, i) => ({
    source,
    delayCs: ((begins[i + 1]?.at ?? total) - at) / ticksPerCs,
  }));
}

/** The frame that stands for a source frame when only every n-th from the start is taken. */
export function takenFrame(frame: number, start: number, every: number): number {
  return start + Math.floor((frame - start) / every) * every;
}

/** How long a reel is shown, in centiseconds. */
export function reelCentiseconds(reel: Reel): number {
  return reel.reduce((sum, pick) => sum + pick.delayCs, 0);
}
