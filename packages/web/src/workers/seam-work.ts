import {
  adviseJoin,
  blackFrames,
  createSeamField,
  findSeams,
  type JoinAdvice,
  type LoopLength,
  type LoopReel,
  measureReelSeam,
  nearDoubles,
  type ReelSeam,
  type SeamCandidate,
  type SeamField,
  type SeamPlaces,
} from '@muted-pond/core/loop';
import { alignSignatures } from '@muted-pond/core/motion';
import type { Size } from '@muted-pond/core/pixels';
import { type Recipe, seenShare } from '@muted-pond/core/recipe';
import { loopOf } from '@muted-pond/core/render';
import { choosePlate, type PlateChoice, type PlateChoices } from '@muted-pond/core/still';
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
  | ({ readonly type: 'look' } & SeamQuestion);

export interface SeamQuestion {
  readonly id: number;
  readonly recipe: Recipe;
  readonly within: 'span' | 'anywhere';
  readonly length: LoopLength;
  /** What moves of a picture that is held, of SIGNATURE_SIZE; null where all of it does. */
  readonly moving: Uint8Array | null;
}

export interface SeamAnswer {
  readonly id: number;
  readonly candidates: readonly SeamCandidate[];
  /** Null where the reel cannot be made. */
  readonly seam: ReelSeam | null;
  readonly advice: JoinAdvice | null;
  /** Places in the reel that nearly repeat the one before. */
  readonly doubles: readonly number[];
  readonly blacks: readonly number[];
  /** How the held frame meets what moves, and which would meet it best; null where nothing is held. */
  readonly plate: PlateChoices | null;
  /** How long the search took, ms; 0 when the last one still held. */
  readonly searchMs: number;
}

/** Answers questions about one piece's seams; remembers what the next question is likely to need again. */
export function createSeamWork(now: () => number): (message: SeamMessage) => SeamAnswer | null {
  let footage: Extract<SeamMessage, { type: 'footage' }> | null = null;
  const alignedOnce = remembered((_: 'all') =>
    alignSignatures((footage as NonNullable<typeof footage>).signatures),
  );
  const fieldOf = remembered((places: SeamPlaces): SeamField => createSeamField(alignedOnce('all'), places));
  const seamsOf = remembered(
    ({ places, within, length }: { places: SeamPlaces; within: Span; length: LoopLength }) => {
      const { window, times } = footage as NonNullable<typeof footage>;
      return findSeams(fieldOf(places), window, times, within, length);
    },
  );

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
      alignedOnce.forget();
      fieldOf.forget();
      seamsOf.forget();
      return null;
    }
    if (!footage) return null;
    const { id, recipe, length, moving } = message;
    const { window, times, size, signatures } = footage;
    const places: SeamPlaces = { part: seenShare(size, recipe.framing), moving };
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
      };
      return {
        id,
        candidates,
        seam: measureReelSeam(field, window.start, loop, recipe.loop),
        advice: adviseJoin(field, window.start, take, recipe.loop),
        doubles: nearDoubles(field, window.start, loop.items),
        blacks: blackFrames(signatures, window.start, loop.items),
        plate: moving && recipe.still.plate ? plateOf(recipe, loop, recipe.still.plate.frame, moving) : null,
        searchMs,
      };
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      // The reel cannot be made; the workspace says why.
      return { id, candidates, seam: null, advice: null, doubles: [], blacks: [], plate: null, searchMs };
    }
  };
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
