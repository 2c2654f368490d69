import type { FrameTimes, Span } from '../timing/index.js';
import type { JoinSettings } from './joins/index.js';
import { type LoopSettings, makeLoop } from './loop-reel.js';
import { measureReelSeam } from './reel-seam.js';
import type { SeamField } from './seam-field.js';

/** From this score on a joint is not noticed. */
export const GOOD_SEAM = 92;
/** Lengths of a crossfade that are tried, frames of the reel: short ones ghost less. */
const CROSSFADES = [4, 6, 8, 12, 16, 24, 30];

/** A way to join, what it would score, and why it is proposed. */
export interface JoinAdvice {
  readonly join: JoinSettings;
  readonly score: number;
  readonly reason: 'meets' | 'at-rest' | 'melts' | 'best-there-is';
}

/**
 * Which join suits a span best: a cut where the end meets the start, there and back where the movement rests at both ends, else
 * the shortest crossfade that hides the joint, else whichever scores best.
 */
export function adviseJoin(
  field: SeamField,
  first: number,
  take: {
    readonly times: FrameTimes;
    readonly span: Span;
    readonly rate: number | 'source';
    readonly every: number;
  },
  settings: LoopSettings,
): JoinAdvice {
  const scoreOf = (join: JoinSettings) => {
    const loop = makeLoop(take.times, take.span, take.rate, take.every, { ...settings, join, repeats: 1 });
    return {
      join,
      score: measureReelSeam(field, first, loop, { join, reverse: settings.reverse }).score,
      loop,
    };
  };
  const cut = scoreOf({ kind: 'cut' });
  if (cut.score >= GOOD_SEAM) return { join: cut.join, score: cut.score, reason: 'meets' };
  const back = scoreOf({ kind: 'there-and-back' });
  if (back.score >= GOOD_SEAM) return { join: back.join, score: back.score, reason: 'at-rest' };
  const { longest } = cut.loop.crossfade;
  const fades = CROSSFADES.filter((frames) => frames <= longest).map((frames) =>
    scoreOf({ kind: 'crossfade', frames }),
  );
  const hidden = fades.find((fade) => fade.score >= GOOD_SEAM);
  if (hidden) return { join: hidden.join, score: hidden.score, reason: 'melts' };
  const best = [cut, back, ...fades].reduce((one, other) => (other.score > one.score ? other : one));
  return { join: best.join, score: best.score, reason: 'best-there-is' };
}
