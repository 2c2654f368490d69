import Joi from 'joi';
import type { LedPlace, Reel, TakeMoment } from '../../timing/index.js';
import { counterpart, reachAfter, reachBefore } from './counterpart.js';
import type { Join, JoinContext } from './join.js';

export interface Flowed {
  readonly kind: 'flowed';
  /** Frames of the reel in which the end goes over into the start. */
  readonly frames: number;
}

const LENGTH = { min: 2, max: 48, usual: 12 };

/**
 * As in a crossfade the last k frames go over into the k frames before the start; but things are led along the flow
 * from one to the other, so that nothing is seen twice. Where too few frames lie before the start, the first k frames
 * come from those after the end in the same way.
 */
export const flowed: Join<Flowed> = {
  kind: 'flowed',
  label: 'Flowed',
  schema: Joi.object<Flowed>({
    kind: Joi.valid('flowed').required(),
    frames: Joi.number().integer().min(LENGTH.min).max(LENGTH.max).required(),
  }),
  length: LENGTH,
  over: (frames) => ({ kind: 'flowed', frames }),
  framesOf: ({ frames }) => frames,
  turns: false,
  isLed: true,
  follows: 'next',
  longest(reel, context) {
    const most = Math.max(reachBefore(reel, context), reachAfter(reel, context));
    return most < LENGTH.min ? 0 : Math.min(LENGTH.max, most);
  },
  apply(reel, settings, context) {
    const [before, after] = [reachBefore(reel, context), reachAfter(reel, context)];
    const frames = Math.min(settings.frames, Math.max(before, after));
    if (frames < LENGTH.min) return reel;
    return before >= Math.min(frames, after)
      ? overEnd(reel, frames, context)
      : overStart(reel, frames, context);
  },
  back: () => [],
  ownReelFrame(settings, at, { within, anywhere, seconds, length, mostMelted }) {
    const count = Math.min(settings.frames, mostMelted);
    // A round need not be a whole number of frames.
    const n = Math.round((at - 1) * length + count);
    if (count < LENGTH.min || n < 0 || n >= count) return within(at * seconds);
    const pairs = Array.from({ length: count }, (_, k) => {
      const from = (1 + (k - count) / length) * seconds;
      return { from: within(from), to: anywhere(from - seconds) };
    });
    const { from, to } = pairs[n];
    const led = { at: n, seconds: seconds / length, pairs };
    return { ...from, blend: { ...to, share: (n + 1) / (count + 1), led } };
  },
  ownSeconds: ({ seconds }) => seconds,
  candidates: (longest, found) =>
    found !== null && longest >= LENGTH.min ? [{ kind: 'flowed', frames: Math.min(found, longest) }] : [],
  reason: 'flows',
  words: ({ frames }) => `a flow over ${frames} frames`,
  note: ({ used, longest }) =>
    `: none added. Things move over from the end to the start in ${used} frames; ${longest} could.`,
  room: 'before the start or after the end',
  lacking: () => 'No frames lie beside the span to flow into.',
};

/** The last frames flow into those before the start. */
function overEnd(reel: Reel, frames: number, context: JoinContext): Reel {
  const from = reel.length - frames;
  const pairs = reel.slice(from).map((pick) => pairOf(pick, counterpart(pick, context)));
  return reel.map((pick, t) => {
    const at = t - from;
    if (at < 0) return pick;
    return { ...pick, blend: { ...pairs[at].to, share: share(at, frames), led: place(reel, at, pairs) } };
  });
}

/** Those after the end flow into the first frames. */
function overStart(reel: Reel, frames: number, context: JoinContext): Reel {
  const pairs = reel.slice(0, frames).map((pick) => pairOf(counterpart(pick, context, true) ?? pick, pick));
  return reel.map((pick, at) => {
    if (at >= frames) return pick;
    return {
      ...pick,
      blend: { ...pairs[at].from, share: 1 - share(at, frames), led: place(reel, at, pairs) },
    };
  });
}

function share(at: number, frames: number): number {
  return (at + 1) / (frames + 1);
}

function pairOf(from: TakeMoment, to: TakeMoment | null) {
  return { from: bare(from), to: bare(to ?? from) };
}

/** A moment alone, whatever it was taken from. */
function bare({ source, toward }: TakeMoment): TakeMoment {
  return toward ? { source, toward } : { source };
}

function place(reel: Reel, at: number, pairs: LedPlace['pairs']): LedPlace {
  const shown = reel.reduce((sum, { delayCs }) => sum + delayCs, 0);
  return { at, seconds: shown / reel.length / 100, pairs };
}
