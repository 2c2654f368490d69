import type { FrameTimes, Span } from '../timing/index.js';
import { type JoinCandidate, joinCandidates } from './advice.js';
import type { LoopLength } from './find-seams.js';
import { JOINS, type JoinKind } from './joins/index.js';
import type { SeamField } from './seam-field.js';
import { seamScore } from './seam-score.js';
import { liveliness, runningMovement, squaredJumps } from './seam-search.js';

/** A region that may loop by itself. */
export interface Region {
  /** Distances of its places only. */
  readonly field: SeamField;
  /** Share of the picture, 0–1: a large region's joint counts for more. */
  readonly area: number;
}

/** Rounds of their own for some regions within one common round. */
export interface CommonRound {
  /** Length of the common round, source frames. */
  readonly frames: number;
  /** One a region, in their order. */
  readonly regions: readonly CommonPart[];
}

/** What one region shows in the common round. */
export interface CommonPart {
  readonly span: Span;
  /** How often it goes round. */
  readonly rounds: number;
  /** How it may be closed, those that change the footage least first. What turns does not go round. */
  readonly joins: readonly JoinCandidate[];
}

/** Kinds of joins that go round. */
const GOING_ROUND = JOINS.filter((join) => !join.turns).map(({ kind }) => kind);

/** Frames of a flow that closes a region: where one is of use, few are best. */
const FLOW_FRAMES = 6;
/** How far a region may be slowed or hurried. */
const MOST_RETIMED = 0.12;
/** What retiming costs beside a score out of 1, and what each frame of the common round costs. */
const RETIME_PRICE = 2.5;
const FRAME_PRICE = 0.0006;
/** A round of a region lasts this long at least, seconds. */
const SHORTEST_ROUND = 0.4;

/** The best start of each length. */
interface Lengths {
  readonly shortest: number;
  readonly starts: Int32Array;
  /** 0–1, less where little moves; −1 where the take has no such length. */
  readonly scores: Float32Array;
}

/**
 * One common length in which every region goes round a whole number of times: for each length the best start
 * of each region, then the common length T, each part T/n and retimed by at most 12 %, with the least Σ √area
 * · ((100 − score)/100 + 2.5 · retiming) + 0.0006 T.
 * @param first the source frame that the fields' frame 0 is.
 * @param within source frames that may be used.
 * @param rate frames of the reel a second, or as the source has them; for crossfades.
 * @returns null where the frames cannot hold a loop of that length.
 */
export function findCommonRound(
  regions: readonly Region[],
  first: number,
  times: FrameTimes,
  within: Span,
  length: LoopLength,
  rate: number | 'source',
): CommonRound | null {
  const perSecond = times.starts.length / times.duration;
  const from = Math.max(0, within.start - first);
  const shortest = Math.max(3, Math.round(SHORTEST_ROUND * perSecond));
  // The reel around it needs as many frames of the take.
  const most = Math.min(Math.floor(length.max * perSecond + 1e-6), within.end - within.start);
  const least = Math.max(shortest, Math.ceil(length.min * perSecond - 1e-6));
  const tables = regions.map(({ field }) => {
    const to = Math.min(field.frames, within.end - first);
    return lengthsOf(field, from, to, shortest, Math.min(most, to - from));
  });
  if (tables.some((table) => table === null) || regions.length === 0) return null;
  const known = tables as Lengths[];
  let best: { cost: number; frames: number; parts: Part[] } | null = null;
  for (let frames = least; frames <= most; frames++) {
    const parts = known.map((table) => bestPart(table, frames));
    if (parts.some((part) => part === null)) continue;
    const cost =
      (parts as Part[]).reduce((sum, part, i) => sum + Math.sqrt(regions[i].area) * part.cost, 0) +
      FRAME_PRICE * frames;
    if (!best || cost < best.cost) best = { cost, frames, parts: parts as Part[] };
  }
  if (!best) return null;
  const { frames, parts } = best;
  const reelRate = rate === 'source' ? perSecond : Math.min(rate, perSecond);
  return {
    frames,
    regions: parts.map((part, i) => {
      const start = known[i].starts[part.length - shortest] + first;
      const reelFrames = (frames / perSecond / part.rounds) * reelRate;
      // As many frames of the reel as the footage before the stretch lasts.
      const reach = Math.min(reelFrames - 1, (start / part.length) * reelFrames);
      const longest = Object.fromEntries(JOINS.map(({ kind }) => [kind, Math.floor(reach)]));
      return {
        span: { start, end: start + part.length },
        rounds: part.rounds,
        joins: joinCandidates(longest as Record<JoinKind, number>, GOING_ROUND, FLOW_FRAMES),
      };
    }),
  };
}

interface Part {
  readonly rounds: number;
  readonly length: number;
  readonly cost: number;
}

function bestPart({ shortest, scores }: Lengths, frames: number): Part | null {
  let best: Part | null = null;
  for (let rounds = 1; frames / rounds >= shortest * (1 - MOST_RETIMED); rounds++) {
    const wanted = frames / rounds;
    const from = Math.max(shortest, Math.ceil(wanted * (1 - MOST_RETIMED)));
    const to = Math.min(shortest + scores.length - 1, Math.floor(wanted * (1 + MOST_RETIMED)));
    for (let length = from; length <= to; length++) {
      const score = scores[length - shortest];
      if (score < 0) continue;
      const cost = 1 - score + RETIME_PRICE * Math.abs(length / wanted - 1);
      if (!best || cost < best.cost) best = { rounds, length, cost };
    }
  }
  return best;
}

function lengthsOf(
  field: SeamField,
  from: number,
  to: number,
  shortest: number,
  longest: number,
): Lengths | null {
  if (longest < shortest) return null;
  const lags = longest - shortest + 1;
  const squared = squaredJumps(field, { from, to, shortest, longest });
  const movement = runningMovement(field);
  const usual = movement(0, field.frames);
  const starts = new Int32Array(lags);
  const scores = new Float32Array(lags).fill(-1);
  for (let a = from; a < to; a++) {
    for (let lag = 0; lag < lags && a + shortest + lag <= to; lag++) {
      const value = squared[(a - from) * lags + lag];
      if (!Number.isFinite(value)) continue;
      const jump = Math.sqrt(Math.max(0, value - field.noise));
      const moves = usual > 0 ? movement(a, a + shortest + lag) / usual : 1;
      const score = (seamScore(jump, field.usualStep) / 100) * liveliness(moves);
      if (score <= scores[lag]) continue;
      scores[lag] = score;
      starts[lag] = a;
    }
  }
  return { shortest, starts, scores };
}
