import type { FrameTimes, Span } from '../timing/index.js';
import {
  type AnyJoin,
  JOIN_KINDS,
  JOINS,
  type JoinKind,
  type JoinSettings,
  PLAIN_CUT,
} from './joins/index.js';
import { type LoopSettings, makeLoop } from './loop-reel.js';
import { measureReelSeam } from './reel-seam.js';
import type { SeamField } from './seam-field.js';

/** From this score on a joint is not noticed. */
export const GOOD_SEAM = 92;
/** The order in which good joins are proposed: what changes the footage least comes first. */
const ORDER: readonly AnyJoin['reason'][] = ['meets', 'at-rest', 'melts', 'woven'];

/** A way to join, what it would score, and why it is proposed. */
export interface JoinAdvice {
  readonly join: JoinSettings;
  readonly score: number;
  readonly reason: AnyJoin['reason'] | 'best-there-is';
}

/**
 * Which join suits a span best: a cut where the end meets the start, there and back where the movement rests
 * at both ends, else the shortest crossfade that hides the joint, else whichever scores best.
 * @param kinds those that may be proposed; a cut where none of them can be.
 */
export function adviseJoin(
  field: SeamField,
  first: number,
  take: {
    readonly times: FrameTimes;
    readonly span: Span;
    readonly rate: number | 'source';
    readonly every: number;
    /** First frames of other scenes, rising. */
    readonly cuts?: readonly number[];
  },
  settings: LoopSettings,
  kinds: readonly JoinKind[] = JOIN_KINDS,
): JoinAdvice {
  const loopBy = (join: JoinSettings) =>
    makeLoop(take.times, take.span, take.rate, take.every, { ...settings, join, repeats: 1 });
  const { longest } = loopBy(settings.join);
  let best: JoinAdvice | null = null;
  const allowed = JOINS.filter(({ kind }) => kinds.includes(kind));
  for (const join of allowed.sort((a, b) => ORDER.indexOf(a.reason) - ORDER.indexOf(b.reason))) {
    for (const candidate of join.candidates(longest[join.kind])) {
      const seamSettings = { join: candidate, reverse: settings.reverse };
      const { score } = measureReelSeam(field, first, loopBy(candidate), seamSettings, take.cuts);
      if (score >= GOOD_SEAM) return { join: candidate, score, reason: join.reason };
      if (!best || score > best.score) best = { join: candidate, score, reason: 'best-there-is' };
    }
  }
  if (best) return best;
  return adviseJoin(field, first, take, settings, [PLAIN_CUT.kind]);
}
