import { UserError } from '../errors/index.js';
import {
  boundaryTime,
  type FrameTimes,
  momentAt,
  type Reel,
  type ReelFrame,
  type Span,
  spanSeconds,
  type TakeMoment,
} from '../timing/index.js';
import { type AnyJoin, type JoinSettings, joinOf, type Woven } from './joins/index.js';
import type { OwnStretch } from './joins/join.js';
import type { ClosedReel } from './score/index.js';

/**
 * The own loop of one region, whatever part of the take the rest of the reel shows. It always runs forwards.
 */
export interface OwnRound {
  /** Its own stretch of the take: whole source frames, end exclusive. */
  readonly span: Span;
  /** A crossfade counts in frames of the reel. */
  readonly join: JoinSettings;
  /** Its cycles in one cycle of the reel. */
  readonly rounds: number;
}

/** A frame that is shown for more than so many usual delays is a rest: the region rests as well. */
const RESTS_FROM = 2;

/**
 * What a region with a round of its own shows at each place of the reel's round; the delays are the reel's.
 * @param isSmooth whether pictures are made between frames of the take.
 */
export function ownReel(times: FrameTimes, round: Reel, own: OwnRound, isSmooth: boolean): Reel {
  const span = { start: own.span.start, end: Math.min(own.span.end, times.starts.length) };
  if (span.start >= span.end) {
    throw new UserError(
      'own_loop_outside',
      `A ripple loops from frame ${own.span.start} on, and the footage has ${times.starts.length} frames. Let it loop with the reel, or find its loop anew.`,
    );
  }
  const closing = joinOf(own.join);
  const timed = closing.round?.(own.join, span) ?? span;
  const woven = ownWeave({ ...own, span });
  const stretch = stretchOf(times, timed, {
    length: round.length / own.rounds,
    isSmooth: isSmooth && !woven,
    follows: closing.follows,
  });
  return sharesOf(round).map((share, place): ReelFrame => {
    const picked = closing.ownReelFrame(own.join, (share * own.rounds) % 1, stretch);
    return { ...picked, delayCs: round[place].delayCs, ...(woven && { woven: woven.name }) };
  });
}

/** What is woven in a region with a round of its own; null where nothing is. Regions that go alike share one. */
export function ownWeave({
  span,
  join,
}: OwnRound): { readonly name: string; readonly settings: Woven } | null {
  const closing = joinOf(join);
  const settings = closing.woven?.(join);
  if (!settings || closing.missing?.(join, span)) return null;
  return { name: JSON.stringify([span.start, span.end, settings]), settings };
}

interface StretchWay {
  /** Frames of the reel in one round of the region. */
  readonly length: number;
  readonly isSmooth: boolean;
  readonly follows: AnyJoin['follows'];
}

function stretchOf(times: FrameTimes, span: Span, { length, isSmooth, follows }: StretchWay): OwnStretch {
  const from = boundaryTime(times, span.start);
  const seconds = spanSeconds(times, span);
  return {
    seconds,
    lastStart: times.starts[span.end - 1] - from,
    within(at): TakeMoment {
      const { source, toward } = momentAt(times, from + at, isSmooth);
      const inside = Math.max(span.start, Math.min(span.end - 1, source));
      if (!toward || inside !== source) return { source: inside };
      if (toward.source < span.end) return { source, toward };
      if (follows === 'none') return { source };
      return follows === 'next' ? { source, toward } : { source, toward: { ...toward, source: span.start } };
    },
    anywhere: (at) => momentAt(times, Math.max(0, from + at), isSmooth),
    length,
    mostMelted: mostMelted(length, from, seconds),
  };
}

/** How much faster than filmed a region with a round of its own is shown: 1 as filmed. */
export function ownSpeed(times: FrameTimes, round: Reel, own: OwnRound): number {
  const closing = joinOf(own.join);
  const timed = closing.round?.(own.join, own.span) ?? own.span;
  const { start, end } = timed;
  const stretch = {
    seconds: spanSeconds(times, timed),
    lastStart: times.starts[Math.min(end, times.starts.length) - 1] - boundaryTime(times, start),
  };
  const oneRound = closing.ownSeconds(stretch);
  const shown = restless(round).reduce((sum, delay) => sum + delay, 0) / 100;
  return (oneRound * own.rounds) / shown;
}

/** One cycle of a region's own round, as it closes. @param round the reel's. */
export function ownClosedReel(times: FrameTimes, round: Reel, own: OwnRound, isSmooth: boolean): ClosedReel {
  const frames = Math.max(1, Math.round(round.length / own.rounds));
  const reel = ownReel(times, round.slice(0, frames), { ...own, rounds: 1 }, isSmooth);
  return { round: reel, turn: joinOf(own.join).turns ? frames >> 1 : null };
}

/** The most frames that can melt: fewer than the round, and no more than the take has before the stretch. */
function mostMelted(length: number, before: number, seconds: number): number {
  const there = Math.floor((before / seconds) * length + 1e-6);
  return Math.max(0, Math.min(Math.ceil(length) - 1, there));
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
