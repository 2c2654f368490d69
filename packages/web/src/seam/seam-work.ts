import {
  blackFrames,
  createSeamField,
  findCommonRound,
  findSeams,
  firstGoodJoin,
  type JoinSettings,
  type LoopLength,
  type LoopReel,
  makeLoop,
  nearDoubles,
  type OwnRound,
  PLAIN_LOOP,
  proposedScore,
  type SeamCandidate,
  type SeamField,
  type SeamPlaces,
  seamAt,
} from '@muted-pond/core/loop';
import { alignSignatures, findCuts, scenesWithin, signaturesIn } from '@muted-pond/core/motion';
import type { Size } from '@muted-pond/core/pixels';
import { type Recipe, seenShare } from '@muted-pond/core/recipe';
import {
  type CalmStretch,
  choosePlate,
  findCalmStretch,
  type PlateChoice,
  type PlateChoices,
} from '@muted-pond/core/still';
import type { FrameTimes, Span } from '@muted-pond/core/timing';
import { sentenceOf } from '../ui/sentence.js';
import type { PlaceSearch } from './flow-search.js';
import {
  type BetterSeams,
  createSeamMeasure,
  loopOrNone,
  type MeasuredSeam,
  pacedSpan,
  type ReadLooks,
  type SeamMeasure,
} from './seam-measure.js';

/** What the worker is told. */
export type SeamMessage =
  | {
      readonly type: 'footage';
      readonly footage: string;
      readonly signatures: Uint8Array;
      /** The frames they are of. */
      readonly window: Span;
      readonly times: FrameTimes;
      readonly size: Size;
    }
  | ({ readonly type: 'question' } & SeamQuestion)
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

/**
 * What the worker says. A question is answered in three parts, as they become known: what is found by comparing whole
 * frames, how the joint is seen, and what would be better. A newer question ends the last part.
 */
export type SeamReply =
  | { readonly type: 'found'; readonly found: SeamFound }
  | { readonly type: 'measured'; readonly id: number; readonly measured: MeasuredSeam }
  | { readonly type: 'unmeasured'; readonly id: number; readonly problem: string }
  | { readonly type: 'better'; readonly id: number; readonly better: BetterSeams }
  | { readonly type: 'common-round'; readonly found: FoundRounds | null; readonly problem: string | null };

/** The length of the reel, in source frames, and each ripple's round in it. */
export interface FoundRounds {
  readonly frames: number;
  readonly rounds: readonly { readonly id: string; readonly round: OwnRound; readonly score: number }[];
}

/** A place to join, and whether its score is measured; else it is guessed from the size of its step. */
export interface SeamPlace extends SeamCandidate {
  /** What it is joined by there. */
  readonly join: JoinSettings;
  readonly isMeasured: boolean;
}

/** What comparing whole frames tells. */
export interface SeamFound {
  readonly id: number;
  readonly candidates: readonly SeamPlace[];
  /** First frames of other scenes among those that were searched. */
  readonly cuts: readonly number[];
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
  /** How long the search took, ms; 0 when the last one still held. */
  readonly searchMs: number;
}

/** Answers questions about one piece's seams; remembers what the next question is likely to need again. */
export function createSeamWork(
  now: () => number,
  readLooks: (footage: string) => ReadLooks,
): (message: SeamMessage, post: (reply: SeamReply) => void) => Promise<void> {
  let footage: Extract<SeamMessage, { type: 'footage' }> | null = null;
  let cuts: readonly number[] = [];
  let measure: SeamMeasure | null = null;
  let newest = 0;
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

  async function commonRound({ recipe, length, moving }: CommonRoundQuestion): Promise<FoundRounds | null> {
    const { window, times } = footage as NonNullable<typeof footage>;
    const regions = moving.ripples.map(({ places }) => ({
      field: createSeamField(alignedOnce('all'), { moving: places }),
      area: places.reduce((sum, value) => sum + value, 0) / (255 * places.length),
    }));
    const isOfSpan = ({ end }: Span) => recipe.span.start < end;
    const scene = scenesWithin(window, cuts).find(isOfSpan) ?? window;
    const { frameRate } = recipe.weigh;
    const found = findCommonRound(regions, window.start, times, scene, length, frameRate);
    if (!found) return null;
    const rounds: FoundRounds['rounds'][number][] = [];
    const span = { start: scene.start, end: scene.start + found.frames };
    const { every } = pacedSpan(recipe, times);
    const { reel } = makeLoop(times, span, frameRate, every, PLAIN_LOOP);
    for (const [i, { joins, ...part }] of found.regions.entries()) {
      const { id, places } = moving.ripples[i];
      const scoreOf = async (join: OwnRound['join']) =>
        proposedScore(await (measure as SeamMeasure).own(recipe, reel, { ...part, join }, places));
      const chosen = await firstGoodJoin(joins, scoreOf);
      if (chosen) rounds.push({ id, round: { ...part, join: chosen.join }, score: chosen.score });
    }
    return { frames: found.frames, rounds };
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

  function placesOf({ recipe, moving }: SeamQuestion): SeamPlaces {
    const { size } = footage as NonNullable<typeof footage>;
    return { part: seenShare(size, recipe.framing), moving: moving.withReel };
  }

  function searchOf(question: SeamQuestion): PlaceSearch {
    const { window } = footage as NonNullable<typeof footage>;
    const field = fieldOf(placesOf(question));
    return {
      ...{ window, within: question.within === 'span' ? question.recipe.span : window },
      ...{ length: question.length, candidateAt: (span) => seamAt(field, window, span) },
    };
  }

  function find(question: SeamQuestion, loop: LoopReel | null): SeamFound {
    const { id, recipe, length, moving } = question;
    const { window, signatures } = footage as NonNullable<typeof footage>;
    const places = placesOf(question);
    const began = now();
    const search = searchOf(question);
    const candidates = seamsOf({ places, within: search.within, length });
    const searchMs = now() - began;
    const known = {
      id,
      candidates: (measure as SeamMeasure).known(recipe, moving, candidates, search),
      cuts,
      searchMs,
    };
    const { plate } = recipe.still;
    // Where the reel cannot be made, the workspace says why.
    if (!loop) return { ...known, doubles: [], blacks: [], plate: null, calm: null };
    return {
      ...known,
      doubles: nearDoubles(fieldOf(places), window.start, loop.items),
      blacks: blackFrames(signatures, window.start, loop.items),
      plate: moving.all && plate ? plateOf(recipe, loop, plate.frame, moving.all) : null,
      calm: moving.all && plate ? calmOf({ moving: moving.all, length: spanLength(recipe) }) : null,
    };
  }

  async function answer(question: SeamQuestion, post: (reply: SeamReply) => void): Promise<void> {
    const { id, recipe, moving } = question;
    const { times } = footage as NonNullable<typeof footage>;
    const asked = measure as SeamMeasure;
    newest = id;
    const loop = loopOrNone(recipe, times);
    const found = find(question, loop);
    post({ type: 'found', found });
    try {
      post({ type: 'measured', id, measured: await asked.reel(recipe, loop, moving) });
      // Whatever was asked meanwhile is heard between two joints.
      const hear = async () => {
        await new Promise((heard) => setTimeout(heard));
        if (id !== newest || asked !== measure) throw new Error('A newer question was asked.');
      };
      const search = searchOf(question);
      for await (const better of asked.better(recipe, loop, moving, found.candidates, search, hear)) {
        await hear();
        post({ type: 'better', id, better });
      }
    } catch (error) {
      // A newer question tells of itself.
      if (id === newest && asked === measure) post({ type: 'unmeasured', id, problem: sentenceOf(error) });
    }
  }

  return async (message, post) => {
    if (message.type === 'footage') {
      footage = message;
      cuts = findCuts(signaturesIn(message.signatures)).map((cut) => cut + message.window.start);
      for (const memory of [alignedOnce, fieldOf, seamsOf, calmOf]) memory.forget();
      const { start } = message.window;
      measure = createSeamMeasure(message, cuts, readLooks(message.footage), () => ({
        aligned: alignedOnce('all'),
        start,
      }));
      return;
    }
    if (!footage) return;
    if (message.type === 'question') return answer(message, post);
    try {
      post({ type: 'common-round', found: await commonRound(message), problem: null });
    } catch (error) {
      post({ type: 'common-round', found: null, problem: sentenceOf(error) });
    }
  };
}

function spanLength({ span }: Recipe): number {
  return span.end - span.start;
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
