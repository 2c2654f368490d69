import { boundaryTime, type FrameTimes, frameAt, type Span } from '@muted-pond/core/timing';

/**
 * Where a looping span is after some time of playing: the source frame that is due.
 * @param from the frame that playing began with.
 * @param elapsedSeconds since then, at true speed.
 */
export function frameDue(times: FrameTimes, span: Span, from: number, elapsedSeconds: number): number {
  const start = boundaryTime(times, span.start);
  const length = boundaryTime(times, span.end) - start;
  const inside = Math.max(span.start, Math.min(span.end - 1, from));
  const moment = (boundaryTime(times, inside) - start + elapsedSeconds) % length;
  return Math.min(span.end - 1, Math.max(span.start, frameAt(times, start + moment)));
}

/** The frames after this one in a looping span, as many as asked for, none twice. */
export function framesAhead(span: Span, frame: number, count: number): number[] {
  const length = span.end - span.start;
  const at = Math.max(0, Math.min(length - 1, frame - span.start));
  return Array.from({ length: Math.min(count, length) }, (_, i) => span.start + ((at + 1 + i) % length));
}
