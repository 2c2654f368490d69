import { type FrameTimes, frameAt, nearestFrame } from './span.js';

/** What is seen at one moment of a take: a frame of it, or a picture between two. */
export interface TakeMoment {
  readonly source: number;
  /** The frame that everything is on its way to, and how far it has come, 0–1; none where the frame itself is shown. */
  readonly toward?: { readonly source: number; readonly moment: number };
}

/** What shines through a frame of the reel. */
export interface Blend extends TakeMoment {
  /** How much of it is seen, 0–1. */
  readonly share: number;
  /** Where one flows into the other, rather than being mixed with it. */
  readonly led?: LedPlace;
}

/** A place of a joint in which the end of a loop flows into its start. All places of one joint share its pairs. */
export interface LedPlace {
  /** Which of the pairs is shown, from 0. */
  readonly at: number;
  /** For how long each is, seconds. */
  readonly seconds: number;
  /** What the end shows and what the start shows, frame by frame of the joint. */
  readonly pairs: readonly { readonly from: TakeMoment; readonly to: TakeMoment }[];
}

/** So near to a frame, as a share of the way to the next, that frame itself is shown. */
const NEAR = 0.02;
/** Moments are told apart to such a share of the way. */
const GRAIN = 1000;

/** What is seen on the way from one frame to another. @param moment how far it has come, 0–1. */
export function momentBetween(source: number, next: number, moment: number): TakeMoment {
  if (moment < NEAR || next === source) return { source };
  if (moment > 1 - NEAR) return { source: next };
  return { source, toward: { source: next, moment: Math.round(moment * GRAIN) / GRAIN } };
}

/**
 * What is seen so many seconds after the first frame has begun.
 * @param isSmooth whether that lies between frames where it falls between them; else the nearest is shown.
 */
export function momentAt(times: FrameTimes, seconds: number, isSmooth: boolean): TakeMoment {
  if (!isSmooth) return { source: nearestFrame(times, seconds) };
  const source = frameAt(times, seconds);
  const next = source + 1;
  if (next >= times.starts.length) return { source };
  const [from, to] = [times.starts[source], times.starts[next]];
  return momentBetween(source, next, Math.max(0, seconds - from) / (to - from));
}

/** Frames of the take that must be at hand to show something, each once. */
export function framesNeeded(pick: TakeMoment & { readonly blend?: Blend }): number[] {
  const led = pick.blend?.led?.pairs.flatMap(({ from, to }) => [...partsOf(from), ...partsOf(to)]) ?? [];
  return [...new Set([...partsOf(pick), ...led].map(({ source }) => source))];
}

/** When something between two frames is seen, seconds after the first frame of the take has begun. */
export function momentSeconds(times: FrameTimes, { source, toward }: TakeMoment): number {
  const from = times.starts[source];
  return toward ? from + toward.moment * (times.starts[toward.source] - from) : from;
}

/** Frames of the take that something is made of, and how much of it each is, were they only mixed. Together 1. */
export function partsOf({
  source,
  toward,
  blend,
}: TakeMoment & { readonly blend?: Blend }): { readonly source: number; readonly share: number }[] {
  const own = toward
    ? [
        { source, share: 1 - toward.moment },
        { source: toward.source, share: toward.moment },
      ]
    : [{ source, share: 1 }];
  if (!blend) return own;
  const over = partsOf({ source: blend.source, toward: blend.toward });
  return [
    ...own.map((part) => ({ ...part, share: part.share * (1 - blend.share) })),
    ...over.map((part) => ({ ...part, share: part.share * blend.share })),
  ];
}
