import { UserError } from '@muted-pond/core/errors';
import {
  adviseJoin,
  blackFrames,
  createSeamField,
  findCommonRound,
  findSeams,
  type JoinAdvice,
  joinOf,
  type LoopLength,
  type LoopReel,
  measureReelSeam,
  nearDoubles,
  type OwnRound,
  ownScore,
  ownWeave,
  type ReelSeam,
  type SeamCandidate,
  type SeamField,
  type SeamPlaces,
} from '@muted-pond/core/loop';
import { alignSignatures, findCuts, scenesWithin, signaturesIn } from '@muted-pond/core/motion';
import type { Size } from '@muted-pond/core/pixels';
import { type Recipe, seenShare } from '@muted-pond/core/recipe';
import { loopOf } from '@muted-pond/core/render';
import {
  type CalmStretch,
  choosePlate,
  findCalmStretch,
  type PlateChoice,
  type PlateChoices,
} from '@muted-pond/core/still';
import type { FrameTimes, Span } from '@muted-pond/core/timing';

/** What the worker is told. */
export type SeamMessage =
  | {
      readonly type: 'footage';
      readonly signatures: Uint8Array;
      /** The frames they are of. */
      readonly window: Span;
      readonly times: FrameTimes;
      readonly size: Size;
    }
  | ({ readonly type: 'look' } & SeamQuestion)
  | ({ readonly type: 'common-round' } & CommonRoundQuestion);

export interface SeamQuestion {
  readonly id: number;
  readonly recipe: Recipe;
  readonly within: 'span' | 'anywhere';
  readonly length: LoopLength;
  readonly moving: MovingPlaces;
}

/** What moves of a picture that is held, each of SIGNATURE_SIZE, 0–255. */
export interface MovingPlaces {
  /** Null where nothing is held. */
  readonly all: Uint8Array | null;
  /** What loops with the reel; null where all of it does. */
  readonly withReel: Uint8Array | null;
  /** The shown ripples, by their ids. */
  readonly ripples: readonly { readonly id: string; readonly places: Uint8Array }[];
}

export const ALL_MOVES: MovingPlaces = { all: null, withReel: null, ripples: [] };

/** Asks for loops of their own for all ripples. */
export interface CommonRoundQuestion {
  readonly recipe: Recipe;
  readonly length: LoopLength;
  readonly moving: MovingPlaces;
}

/** What the worker says. */
export type SeamReply =
  | { readonly type: 'answer'; readonly answer: SeamAnswer }
  | { readonly type: 'common-round'; readonly found: FoundRounds | null };

/** The length of the reel, in source frames, and each ripple's round in it. */
export interface FoundRounds {
  readonly frames: number;
  readonly rounds: readonly { readonly id: string; readonly round: OwnRound; readonly score: number }[];
}

export interface SeamAnswer {
  readonly id: number;
  readonly candidates: readonly SeamCandidate[];
  /** First frames of other scenes among those that were searched. */
  readonly cuts: readonly number[];
  /** Null where the reel cannot be made. */
  readonly seam: ReelSeam | null;
  readonly advice: JoinAdvice | null;
  /** Places in the reel that nearly repeat the one before. */
  readonly doubles: readonly number[];
  readonly blacks: readonly number[];
  /** How the held frame meets what moves, and which would meet it best; null where nothing is held. */
  readonly plate: PlateChoices | null;
  /**
   * The stretch as long as the span that meets a plate in it best along the edges; null where nothing is
   * held.
   */
  readonly calm: CalmStretch | null;
  /** How unnoticeable the joint of each ripple with a round of its own is, 0–100. */
  readonly own: readonly { readonly id: string; readonly score: number }[];
  /** How long the search took, ms; 0 when the last one still held. */
  readonly searchMs: number;
}

/** Answers questions about one piece's seams; remembers what the next question is likely to need again. */
export function createSeamWork(now: () => number): (message: SeamMessage) => SeamReply | null {
  let footage: Extract<SeamMessage, { type: 'footage' }> | null = null;
  let cuts: readonly number[] = [];
  const alignedOnce = remembered((_: 'all') =>
    alignSignatures((footage as NonNullable<typeof footage>).signatures),
  );
  const fieldOf = remembered((places: SeamPlaces): SeamField => createSeamField(alignedOnce('all'), places));
  const seamsOf = remembered(
    ({ places, within, length }: { places: SeamPlaces; within: Span; length: LoopLength }) => {
      const { window, times } = footage as NonNullable<typeof footage>;
      return findSeams(fieldOf(places), window, times, within, length, cuts);
    },
  );

  const ownFields = new Map<string, { readonly key: string; readonly field: SeamField }>();
  function ownFieldOf({ id, places }: { id: string; places: Uint8Array }): SeamField {
    const key = places.join();
    const there = ownFields.get(id);
    if (there?.key === key) return there.field;
    const field = createSeamField(alignedOnce('all'), { moving: places });
    ownFields.set(id, { key, field });
    return field;
  }
  const calmOf = remembered(({ moving, length }: { moving: Uint8Array; length: number }) => {
    const { start } = (footage as NonNullable<typeof footage>).window;
    const found = findCalmStretch(alignedOnce('all'), moving, length);
    return (
      found && {
        ...found,
        plate: found.plate + start,
        span: { start: found.span.start + start, end: found.span.end + start },
      }
    );
  });

  function commonRound({ recipe, length, moving }: CommonRoundQuestion): FoundRounds | null {
    const { window, times } = footage as NonNullable<typeof footage>;
    const regions = moving.ripples.map(({ places }) => ({
      field: createSeamField(alignedOnce('all'), { moving: places }),
      area: places.reduce((sum, value) => sum + value, 0) / (255 * places.length),
    }));
    const isOfSpan = ({ end }: Span) => recipe.span.start < end;
    const scene = scenesWithin(window, cuts).find(isOfSpan) ?? window;
    const found = findCommonRound(regions, window.start, times, scene, length, recipe.weigh.frameRate);
    return (
      found && {
        frames: found.frames,
        rounds: found.regions.map((region, i) => ({ id: moving.ripples[i].id, ...region })),
      }
    );
  }

  /** The joints of the ripples that go round by themselves. */
  function ownScores({ still }: Recipe, loop: LoopReel, { ripples }: MovingPlaces): SeamAnswer['own'] {
    const { window, times } = footage as NonNullable<typeof footage>;
    return still.ripples.flatMap(({ id, shown, loop: own }) => {
      const places = ripples.find((ripple) => ripple.id === id)?.places;
      // What is woven is measured on what was woven.
      if (!own || !shown || !places || ownWeave(own)) return [];
      const field = ownFieldOf({ id, places });
      return [{ id, score: ownScore(field, window.start, times, loop.reel.slice(0, loop.round), own) }];
    });
  }

  /** Any frame of the span may be held. */
  function plateOf({ span }: Recipe, loop: LoopReel, held: number, moving: Uint8Array): PlateChoices | null {
    const { start } = (footage as NonNullable<typeof footage>).window;
    const shown = loop.items.map((item) => item.source - start);
    const candidates = Array.from({ length: span.end - span.start }, (_, i) => span.start + i - start);
    const choices = choosePlate(alignedOnce('all'), moving, shown, candidates, held - start);
    const counted = (choice: PlateChoice) => ({ ...choice, frame: choice.frame + start });
    return choices && { now: counted(choices.now), best: counted(choices.best) };
  }

  return (message) => {
    if (message.type === 'footage') {
      footage = message;
      cuts = findCuts(signaturesIn(message.signatures)).map((cut) => cut + message.window.start);
      alignedOnce.forget();
      fieldOf.forget();
      seamsOf.forget();
      calmOf.forget();
      ownFields.clear();
      return null;
    }
    if (!footage) return null;
    if (message.type === 'common-round') return { type: 'common-round', found: commonRound(message) };
    const { id, recipe, length, moving } = message;
    const { window, times, size, signatures } = footage;
    const places: SeamPlaces = { part: seenShare(size, recipe.framing), moving: moving.withReel };
    const began = now();
    const within = message.within === 'span' ? recipe.span : window;
    const candidates = seamsOf({ places, within, length });
    const searchMs = now() - began;
    const field = fieldOf(places);
    try {
      const loop = loopOf(recipe, { times });
      const [source] = recipe.sources;
      const take = {
        times,
        span: recipe.span,
        rate: recipe.weigh.frameRate,
        every: source.kind === 'footage' ? source.every : 1,
        cuts,
      };
      const { plate } = recipe.still;
      const own = ownScores(recipe, loop, moving);
      const answer: SeamAnswer = {
        id,
        ...{ candidates, cuts },
        seam: weakest(reelSeam(field, window.start, loop, recipe, cuts), own, recipe),
        advice: adviseJoin(field, window.start, take, recipe.loop),
        doubles: nearDoubles(field, window.start, loop.items),
        blacks: blackFrames(signatures, window.start, loop.items),
        plate: moving.all && plate ? plateOf(recipe, loop, plate.frame, moving.all) : null,
        calm: moving.all && plate ? calmOf({ moving: moving.all, length: spanLength(recipe) }) : null,
        own,
        searchMs,
      };
      return { type: 'answer', answer };
    } catch (error) {
      if (!(error instanceof UserError)) throw error;
      // The reel cannot be made; the workspace says why.
      const nothing = { seam: null, advice: null, doubles: [], blacks: [], plate: null, calm: null, own: [] };
      return { type: 'answer', answer: { id, candidates, cuts, ...nothing, searchMs } };
    }
  };
}

function spanLength({ span }: Recipe): number {
  return span.end - span.start;
}

/** Of a woven reel nothing is known here. */
function reelSeam(
  field: SeamField,
  first: number,
  loop: LoopReel,
  { loop: settings, span }: Recipe,
  cuts: readonly number[],
): ReelSeam {
  const closing = joinOf(settings.join);
  if (closing.woven && !closing.missing?.(settings.join, span)) return { score: 100, jump: 0 };
  return measureReelSeam(field, first, loop, settings, cuts);
}

/**
 * The reel is as good as the worst joint in it; where every ripple goes round by itself, its own joint is not
 * seen.
 */
function weakest(seam: ReelSeam, own: SeamAnswer['own'], { still }: Recipe): ReelSeam {
  const shown = still.plate ? still.ripples.filter((ripple) => ripple.shown) : [];
  const scores = own.map(({ score }) => score);
  const isReelSeen = shown.length === 0 || shown.some(({ loop }) => loop === null);
  return isReelSeen
    ? { ...seam, score: Math.min(seam.score, ...scores) }
    : { score: Math.min(100, ...scores), jump: 0 };
}

/** Keeps the last result, as long as the same is asked. */
function remembered<Asked, Result>(
  make: (asked: Asked) => Result,
): ((asked: Asked) => Result) & { forget(): void } {
  let kept: { readonly key: string; readonly result: Result } | null = null;
  const ask = (asked: Asked): Result => {
    const key = JSON.stringify(asked);
    if (kept?.key !== key) kept = { key, result: make(asked) };
    return kept.result;
  };
  return Object.assign(ask, {
    forget() {
      kept = null;
    },
  });
}
