import type { FrameTimes, Span } from '../timing/index.js';
import {
  type AnyJoin,
  JOIN_KINDS,
  JOINS,
  type JoinKind,
  type JoinSettings,
  joinOf,
  PLAIN_CUT,
} from './joins/index.js';
import { type LoopReel, type LoopSettings, makeLoop } from './loop-reel.js';
import { longestInScene } from './other-scenes.js';
import { isUnnoticed } from './score/index.js';

/**
 * The order in which good joins are proposed: what changes the footage least comes first. Of there and back only the
 * turns are judged, not that steam goes back into its kettle.
 */
const ORDER: readonly AnyJoin['reason'][] = ['meets', 'melts', 'flows', 'at-rest', 'woven'];

/** A join that may be proposed, and why. */
export interface JoinCandidate {
  readonly join: JoinSettings;
  readonly reason: AnyJoin['reason'];
}

/** A way to join, what it would score, and why it is proposed. */
export interface JoinAdvice {
  readonly join: JoinSettings;
  readonly score: number;
  readonly reason: AnyJoin['reason'] | 'best-there-is';
}

/** A span of a take, and the pace at which it is shown. */
export interface PacedSpan {
  readonly times: FrameTimes;
  readonly span: Span;
  readonly rate: number | 'source';
  readonly every: number;
  /** First frames of other scenes, rising. */
  readonly cuts: readonly number[];
}

/** Tells joins of a span from each other. */
export interface JoinJudge {
  /** How unnoticeable the joint of a loop is, 0–100; 0 for one that must not be proposed. */
  readonly scoreOf: (loop: LoopReel) => number | Promise<number>;
  /**
   * Over how many frames the end of a loop flows into its start best; null where it cannot.
   * @param cut the loop, cut. @param longest the most frames there can be.
   */
  readonly flowLength: (cut: LoopReel, longest: number) => number | null | Promise<number | null>;
}

/**
 * The joins that may be proposed, in the order in which they are tried.
 * @param longest the most frames that the length of each could be.
 * @param kinds those that may be proposed.
 * @param found the length that a flow needs, where it was looked for.
 */
export function joinCandidates(
  longest: Readonly<Record<JoinKind, number>>,
  kinds: readonly JoinKind[] = JOIN_KINDS,
  found: number | null = null,
): JoinCandidate[] {
  const allowed = JOINS.filter(({ kind }) => kinds.includes(kind));
  const ordered = allowed.sort((a, b) => ORDER.indexOf(a.reason) - ORDER.indexOf(b.reason));
  return ordered.flatMap(({ kind, reason, candidates }) =>
    candidates(longest[kind], found).map((join) => ({ join, reason })),
  );
}

/**
 * The first of some joins that is not noticed, else the one that scores best; null where there are none.
 * @param scoreOf how unnoticeable it is, 0–100.
 */
export async function firstGoodJoin(
  candidates: readonly JoinCandidate[],
  scoreOf: (join: JoinSettings) => number | Promise<number>,
): Promise<JoinAdvice | null> {
  let best: JoinAdvice | null = null;
  for (const { join, reason } of candidates) {
    const score = await scoreOf(join);
    if (isUnnoticed(score)) return { join, score, reason };
    if (!best || score > best.score) best = { join, score, reason: 'best-there-is' };
  }
  return best;
}

/**
 * Which join suits a span best: a cut where the end meets the start, the shortest crossfade that hides the joint, a
 * flow, there and back where the movement rests at both ends, else whichever scores best. None mixes in another scene.
 * @param judge of joints.
 * @param kinds those that may be proposed; a cut where none of them can be.
 */
export async function adviseJoin(
  { times, span, rate, every, cuts }: PacedSpan,
  settings: LoopSettings,
  { scoreOf, flowLength }: JoinJudge,
  kinds: readonly JoinKind[] = JOIN_KINDS,
): Promise<JoinAdvice> {
  const loopBy = (join: JoinSettings) =>
    makeLoop(times, span, rate, every, { ...settings, join, repeats: 1 });
  const cut = loopBy(PLAIN_CUT);
  const longest = longestInScene(cut.longest, loopBy, cuts);
  const led = kinds.find((kind) => joinOf({ kind }).isLed);
  const found = led ? await flowLength(cut, longest[led]) : null;
  const candidates = joinCandidates(longest, kinds, found);
  const best = await firstGoodJoin(candidates, (join) => scoreOf(loopBy(join)));
  if (best) return best;
  return { join: PLAIN_CUT, score: await scoreOf(cut), reason: 'best-there-is' };
}
