/** Whole source frames, `end` exclusive. */
export interface Span {
  readonly start: number;
  readonly end: number;
}

/**
 * When each source frame is shown, in seconds from the first frame's appearance, in showing order,
 * and how long the whole footage lasts. `starts.length` is the number of frames.
 */
export interface FrameTimes {
  readonly starts: ArrayLike<number>;
  readonly duration: number;
}

/** The time at which a boundary between frames falls: 0 … frame count. Past the last frame, the end. */
export function boundaryTime(times: FrameTimes, boundary: number): number {
  if (boundary <= 0) return 0;
  return boundary >= times.starts.length ? times.duration : times.starts[boundary];
}

/** The length of a span in seconds. */
export function spanSeconds(times: FrameTimes, span: Span): number {
  return boundaryTime(times, span.end) - boundaryTime(times, span.start);
}

/** The frame shown at a time in seconds: the last one that has begun. Binary search. */
export function frameAt(times: FrameTimes, seconds: number): number {
  let low = 0;
  let high = times.starts.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (times.starts[middle] <= seconds + 1e-9) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** The frame whose start is nearest to a time in seconds; of two alike, the earlier. */
export function nearestFrame(times: FrameTimes, seconds: number): number {
  const shown = frameAt(times, seconds);
  const next = shown + 1;
  if (next >= times.starts.length) return shown;
  return times.starts[next] - seconds + 1e-9 < seconds - times.starts[shown] ? next : shown;
}

/** The boundary between frames nearest to a time in seconds: 0 … frame count. */
export function nearestBoundary(times: FrameTimes, seconds: number): number {
  const start = nearestFrame(times, seconds);
  const isLast = start === times.starts.length - 1;
  return isLast && times.duration - seconds < seconds - times.starts[start] ? start + 1 : start;
}

/**
 * A span that fits the footage: whole frames, inside it, at least one frame long. The end that was
 * not moved stays.
 */
export function fitSpan(span: Span, frameCount: number, moved: 'start' | 'end' = 'end'): Span {
  const whole = { start: Math.round(span.start), end: Math.round(span.end) };
  if (moved === 'start') {
    const end = clamp(whole.end, 1, frameCount);
    return { start: clamp(whole.start, 0, end - 1), end };
  }
  const start = clamp(whole.start, 0, frameCount - 1);
  return { start, end: clamp(whole.end, start + 1, frameCount) };
}

function clamp(value: number, low: number, high: number): number {
  return Math.max(low, Math.min(high, value));
}
