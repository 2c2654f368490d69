import Joi from 'joi';
import { counterpart, reachBefore } from './counterpart.js';
import type { Join } from './join.js';

export interface Crossfade {
  readonly kind: 'crossfade';
  /** Frames of the reel that are mixed, from its last one backwards. */
  readonly frames: number;
}

const LENGTH = { min: 1, max: 240, usual: 8 };
/** Lengths that are tried, frames of the reel: short ones ghost less. */
const TRIED = [4, 6, 8, 12, 16, 24, 30];

/**
 * The last k frames melt into the k frames before the start, so that the last of them runs into the first by
 * itself. Of L frames from i, output t ≥ L − k mixes frame i + t with frame i + t − L, the latter with the
 * share (n + 1)/(k + 1), n = t − (L − k). No frame is doubled and none is dimmed. A reversed reel melts into
 * the frames after its end.
 */
export const crossfade: Join<Crossfade> = {
  kind: 'crossfade',
  label: 'Crossfade',
  schema: Joi.object<Crossfade>({
    kind: Joi.valid('crossfade').required(),
    frames: Joi.number().integer().min(LENGTH.min).max(LENGTH.max).required(),
  }),
  length: LENGTH,
  over: (frames) => ({ kind: 'crossfade', frames }),
  framesOf: ({ frames }) => frames,
  turns: false,
  isLed: false,
  follows: 'next',
  longest: reachBefore,
  apply(reel, settings, context) {
    const frames = Math.min(settings.frames, crossfade.longest(reel, context));
    const from = reel.length - frames;
    return reel.map((pick, t) => {
      const before = t < from ? null : counterpart(pick, context);
      return before ? { ...pick, blend: { ...before, share: (t - from + 1) / (frames + 1) } } : pick;
    });
  },
  back: () => [],
  ownReelFrame(settings, at, { within, anywhere, seconds, length, mostMelted }) {
    const shown = within(at * seconds);
    const fade = Math.min(settings.frames, mostMelted);
    const faded = (at - 1) * length + fade;
    // Rounding must not begin the crossfade with nothing of the other frame.
    if (fade === 0 || faded < -1e-6) return shown;
    const before = anywhere((at - 1) * seconds);
    return { ...shown, blend: { ...before, share: Math.min(1, (faded + 1) / (fade + 1)) } };
  },
  ownSeconds: ({ seconds }) => seconds,
  candidates: (longest) =>
    TRIED.filter((frames) => frames <= longest).map((frames) => ({ kind: 'crossfade', frames })),
  reason: 'melts',
  words: ({ frames }) => `a crossfade over ${frames} ${frames === 1 ? 'frame' : 'frames'}`,
  note: ({ used, longest, where }) =>
    `: none added. The last ${used} melt into those ${where}; ${longest} could.`,
  lacking: (where) => `No frame lies ${where} to crossfade with.`,
};
