import {
  boundaryTime,
  type FrameTimes,
  nearestFrame,
  type Pick,
  type Reel,
  type Span,
  spanSeconds,
} from '../timing/index.js';
import type { JoinSettings } from './joins/index.js';
import { jumpBetween, type SeamField } from './seam-field.js';
import { seamScore } from './seam-score.js';

/** How one region goes round by itself, whatever stretch the rest of the reel shows. It always runs forwards. */
export interface OwnRound {
  /** Its own stretch of the take: whole source frames, end exclusive. */
  readonly span: Span;
  /** A crossfade counts in frames of the reel. */
  readonly join: JoinSettings;
  /** How often it goes round while the reel goes round once. */
  readonly rounds: number;
}

/** A frame that stays longer than this many usual ones is a rest: the region rests as well. */
const RESTS_FROM = 2;

/** What a region with a round of its own shows at each place of the reel's round; the delays are the reel's. */
export function ownReel(times: FrameTimes, round: Reel, own: OwnRound): Reel {
  const span = { start: own.span.start, end: Math.min(own.span.end, times.starts.length) };
  if (span.start >= span.end) {
    throw new RangeError(
      `A ripple loops from frame ${own.span.start} on, and the footage has ${times.starts.length} frames. Let it loop with the reel, or find its loop anew.`,
    );
  }
  const from = boundaryTime(times, span.start);
  const seconds = spanSeconds(times, span);
  const lastStart = times.starts[span.end - 1] - from;
  const within = (at: number) => Math.max(span.start, Math.min(span.end - 1, nearestFrame(times, from + at)));
  /** Frames of the reel in one round of the region. */
  const length = round.length / own.rounds;
  const fade = own.join.kind === 'crossfade' ? fadeFrames(own.join.frames, length, from, seconds) : 0;
  return sharesOf(round).map((share, place): Pick => {
    const { delayCs } = round[place];
    const at = (share * own.rounds) % 1;
    if (own.join.kind === 'there-and-back') {
      return { source: within(lastStart * (at <= 0.5 ? 2 * at : 2 - 2 * at)), delayCs };
    }
    const source = within(at * seconds);
    const faded = (at - 1) * length + fade;
    // Rounding must not begin the crossfade with nothing of the other frame.
    if (fade === 0 || faded < -1e-6) return { source, delayCs };
    const before = nearestFrame(times, Math.max(0, from + (at - 1) * seconds));
    return { source, delayCs, blend: { source: before, share: Math.min(1, (faded + 1) / (fade + 1)) } };
  });
}

/** How much faster than filmed a region with a round of its own is shown: 1 as filmed. */
export function ownSpeed(times: FrameTimes, round: Reel, own: OwnRound): number {
  const seconds = spanSeconds(times, own.span);
  const last = times.starts[Math.min(own.span.end, times.starts.length) - 1];
  const oneRound =
    own.join.kind === 'there-and-back' ? 2 * (last - boundaryTime(times, own.span.start)) : seconds;
  const shown = restless(round).reduce((sum, delay) => sum + delay, 0) / 100;
  return (oneRound * own.rounds) / shown;
}

/**
 * How unnoticeable the joint of a region's own round is, 0–100.
 * @param field distances of its places only.
 * @param first the source frame that the field's frame 0 is.
 */
export function ownScore(
  field: SeamField,
  first: number,
  times: FrameTimes,
  round: Reel,
  { span, join, rounds }: OwnRound,
): number {
  const [start, end] = [span.start - first, Math.min(span.end - first, field.frames)];
  if (start < 0 || end - start < 2) return 0;
  if (join.kind === 'there-and-back') {
    const turning = Math.max(field.squared(start, start + 1), field.squared(end - 2, end - 1));
    return seamScore(Math.sqrt(Math.max(0, turning - field.noise)), field.usualStep);
  }
  const from = boundaryTime(times, span.start);
  const melted =
    join.kind === 'crossfade'
      ? fadeFrames(join.frames, round.length / rounds, from, spanSeconds(times, span))
      : 0;
  return seamScore(jumpBetween(field, start, end) / (melted + 1), field.usualStep);
}

/** The most frames that can melt: fewer than the round, and no more than the take has before the stretch. */
function fadeFrames(wanted: number, length: number, before: number, seconds: number): number {
  const there = Math.floor((before / seconds) * length + 1e-6);
  return Math.max(0, Math.min(wanted, Math.ceil(length) - 1, there));
}

/** Delays without rests, centiseconds. */
function restless(round: Reel): number[] {
  const delays = round.map((pick) => pick.delayCs);
  const usual = [...delays].sort((a, b) => a - b)[delays.length >> 1];
  return delays.map((delay) => Math.min(delay, RESTS_FROM * usual));
}

/** Where in the round each place begins, 0–1, rests taken out. */
function sharesOf(round: Reel): number[] {
  const delays = restless(round);
  const total = delays.reduce((sum, delay) => sum + delay, 0);
  let at = 0;
  return delays.map((delay) => {
    const share = at / total;
    at += delay;
    return share;
  });
}
