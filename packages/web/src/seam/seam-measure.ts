import { UserError } from '@muted-pond/core/errors';
import {
  adviseJoin,
  type ClosedReel,
  closedReel,
  createLookStore,
  createMovementFinder,
  findFlowLength,
  isUnnoticed,
  type JoinAdvice,
  type JointScore,
  joinOf,
  type LookShift,
  type Looks,
  type LoopReel,
  lookSize,
  lookWeights,
  type MeasuredTake,
  measureClosing,
  measureReelSeam,
  measureSmoothness,
  NO_JOINT,
  type OwnRound,
  ownClosedReel,
  ownWeave,
  type PacedSpan,
  PLAIN_CUT,
  proposedScore,
  rescored,
  type SeamCandidate,
  type Smoothness,
} from '@muted-pond/core/loop';
import { type AlignedSignatures, SIGNATURE_SIZE, TAKEN_FIGURES } from '@muted-pond/core/motion';
import type { Size } from '@muted-pond/core/pixels';
import { type Recipe, seenShare } from '@muted-pond/core/recipe';
import { loopOf } from '@muted-pond/core/render';
import type { FrameTimes, Reel, Span } from '@muted-pond/core/timing';
import { LRUCache } from 'lru-cache';
import { createFlowSearch, type FlowQuestion, type PlaceSearch, withFlowing } from './flow-search.js';
import type { MovingPlaces, SeamPlace } from './seam-work.js';

/** Looks of frames from one to another, exclusive, one after the other. */
export type ReadLooks = (from: number, to: number) => Promise<Uint8Array>;

/** How the joints of a piece are seen. */
export interface MeasuredSeam {
  /** The worst of them; null where the reel cannot be made. */
  readonly seam: JointScore | null;
  /** How unnoticeable the joint of each ripple with a round of its own is, 0–100. */
  readonly own: readonly { readonly id: string; readonly score: number }[];
}

/** What would be seen less. */
export interface BetterSeams {
  readonly advice: JoinAdvice | null;
  readonly candidates: readonly SeamPlace[];
  /** How well pictures between frames of the span can be made; null where that is not known. */
  readonly smoothness: Smoothness | null;
  /** Over how many frames the end flows into the start best; null where it cannot, or the reel is not seen. */
  readonly flowLength: number | null;
}

/** Measures joints of one take as they are seen. All of them throw what reading the looks throws. */
export interface SeamMeasure {
  reel(recipe: Recipe, loop: LoopReel | null, moving: MovingPlaces): Promise<MeasuredSeam>;
  /** One round of a ripple, beside a reel. */
  own(recipe: Recipe, round: Reel, own: OwnRound, places: Uint8Array): Promise<JointScore>;
  /**
   * The join that suits best, how smooth it can be, then places to join, one more measured each time.
   * @param search where places are looked for at which the end can flow into the start.
   * @param hear called before each joint; ends all of it by throwing.
   */
  better(
    recipe: Recipe,
    loop: LoopReel | null,
    moving: MovingPlaces,
    candidates: readonly SeamPlace[],
    search: PlaceSearch,
    hear: () => Promise<void>,
  ): AsyncGenerator<BetterSeams>;
  /** Places with the scores that were measured before, and those at which the end flows into the start. */
  known(
    recipe: Recipe,
    moving: MovingPlaces,
    candidates: readonly SeamCandidate[],
    search: PlaceSearch,
  ): readonly SeamPlace[];
}

/** Joints whose scores are kept. */
const MOST_KEPT = 400;
/** Cuts that are measured before places are looked for at which the end flows into the start. */
const MEASURED_FIRST = 4;
const STEADY: LookShift = { x: 0, y: 0, light: 0 };

/**
 * @param cuts first frames of other scenes, rising.
 * @param alignment how camera and light stray, from the frame `start` on.
 */
export function createSeamMeasure(
  { times, size }: { readonly times: FrameTimes; readonly size: Size },
  cuts: readonly number[],
  read: ReadLooks,
  alignment: () => { readonly aligned: AlignedSignatures; readonly start: number },
): SeamMeasure {
  const look = lookSize(size);
  const store = createLookStore(look, times.starts.length, read);
  const takes = new Map<string, MeasuredTake>();
  const scores = new LRUCache<string, JointScore>({ max: MOST_KEPT });
  const smoothness = new LRUCache<string, { readonly figures: Smoothness | null }>({ max: MOST_KEPT });
  const flows = createFlowSearch();

  /** The take as it is shown: what steadies it is taken out. */
  function takeOf({ still }: Recipe): { readonly key: string; readonly take: MeasuredTake } {
    const [steady, even] = [still.plate !== null && still.steady, still.plate !== null && still.evenLight];
    const key = `${steady}/${even}`;
    const there = takes.get(key);
    if (there) return { key, take: there };
    const looks: Looks = steady || even ? store.shifted((frame) => strayed(frame, steady, even)) : store;
    const take = { looks, load: store.load, finder: createMovementFinder(look), cuts };
    takes.set(key, take);
    return { key, take };
  }

  function strayed(frame: number, steady: boolean, even: boolean): LookShift {
    const { aligned, start } = alignment();
    const at = frame - start;
    if (at < 0 || at >= aligned.count) return STEADY;
    const [x, y, light] = aligned.taken.subarray(at * TAKEN_FIGURES);
    const { width, height } = SIGNATURE_SIZE;
    return { x: steady ? x / width : 0, y: steady ? y / height : 0, light: even ? light : 0 };
  }

  function weightsOf({ framing }: Recipe, moving: Uint8Array | null): Float32Array | null {
    const places = moving && { ...SIGNATURE_SIZE, values: moving };
    return lookWeights(look, seenShare(size, framing), places);
  }

  /** What a measured joint depends on. */
  function keyOf(recipe: Recipe, moving: Uint8Array | null, closed: ClosedReel): string {
    const { key } = takeOf(recipe);
    return JSON.stringify([key, seenShare(size, recipe.framing), moving && [...moving], closed]);
  }

  async function measured(key: string, measure: () => Promise<JointScore | null>): Promise<JointScore> {
    const there = scores.get(key);
    if (there) return there;
    const score = await measure();
    if (!score) throw new Error('Looks of a joint are missing though they were loaded.');
    scores.set(key, score);
    return score;
  }

  function loopSeam(recipe: Recipe, loop: LoopReel, moving: Uint8Array | null): Promise<JointScore> {
    const key = keyOf(recipe, moving, closedReel(loop));
    return measured(key, () => measureReelSeam(takeOf(recipe).take, loop, weightsOf(recipe, moving)));
  }

  function ownSeam(recipe: Recipe, round: Reel, own: OwnRound, places: Uint8Array): Promise<JointScore> {
    const closed = ownClosedReel(times, round, own, recipe.loop.smooth);
    const key = keyOf(recipe, places, closed);
    return measured(key, () => measureClosing(takeOf(recipe).take, closed, weightsOf(recipe, places)));
  }

  const smoothKey = (recipe: Recipe) =>
    JSON.stringify([takeOf(recipe).key, recipe.span, pacedSpan(recipe, times).every]);

  async function smoothnessOf(recipe: Recipe): Promise<Smoothness | null> {
    const key = smoothKey(recipe);
    const { every } = pacedSpan(recipe, times);
    const there = smoothness.get(key);
    const figures = there ? there.figures : await measureSmoothness(takeOf(recipe).take, recipe.span, every);
    smoothness.set(key, { figures });
    return figures;
  }

  /** The joints of the ripples that go round by themselves. */
  async function ownSeams(recipe: Recipe, round: Reel, { ripples }: MovingPlaces) {
    const seams: { id: string; seam: JointScore }[] = [];
    for (const { id, shown, loop: own } of recipe.still.ripples) {
      const places = ripples.find((ripple) => ripple.id === id)?.places;
      if (!own || !shown || !places || ownWeave(own)) continue;
      seams.push({ id, seam: await ownSeam(recipe, round, own, places) });
    }
    return seams;
  }

  /** What is asked of places at which a loop can flow. */
  function flowQuestion(recipe: Recipe, moving: MovingPlaces, search: PlaceSearch): FlowQuestion {
    const { key, take } = takeOf(recipe);
    const seen = [key, seenShare(size, recipe.framing), moving.withReel && [...moving.withReel]];
    return {
      ...{ loop: recipe.loop, search, take, seen: JSON.stringify(seen) },
      pace: { ...pacedSpan(recipe, times), cuts },
      weights: weightsOf(recipe, moving.withReel),
      scoreOf: async (loop) => proposedScore(await loopSeam(recipe, loop, moving.withReel)),
    };
  }

  /** A place closed by a cut; null where its reel cannot be made. */
  const cutAt = (recipe: Recipe, { start, end }: Span): LoopReel | null => {
    const loop = { ...recipe.loop, join: PLAIN_CUT, edits: [] };
    return loopOrNone({ ...recipe, span: { start, end }, loop }, times);
  };

  return {
    own: ownSeam,
    async reel(recipe, loop, moving) {
      if (!loop) return { seam: null, own: [] };
      const own = await ownSeams(recipe, loop.reel.slice(0, loop.round), moving);
      const seams = own.map(({ seam }) => seam);
      if (isReelSeen(recipe) && !isWoven(recipe)) seams.push(await loopSeam(recipe, loop, moving.withReel));
      const seam = seams.reduce((worst, one) => (one.score < worst.score ? one : worst), NO_JOINT);
      return { seam, own: own.map((one) => ({ id: one.id, score: one.seam.score })) };
    },
    known(recipe, moving, candidates, search) {
      const cuts = candidates.map((candidate) => {
        const cut = cutAt(recipe, candidate);
        const seam = cut && scores.get(keyOf(recipe, moving.withReel, closedReel(cut)));
        const scored = seam ? rescored(candidate, seam.score) : candidate;
        return { ...scored, join: PLAIN_CUT, isMeasured: Boolean(seam) };
      });
      return withFlowing(cuts, flows.known(flowQuestion(recipe, moving, search)));
    },
    async *better(recipe, loop, moving, candidates, search, hear) {
      if (!loop) return;
      const scoreOf = async (joined: LoopReel) => {
        await hear();
        return proposedScore(await loopSeam(recipe, joined, moving.withReel));
      };
      let flowLength: number | null = null;
      const lengthOf = async (cut: LoopReel, longest: number) => {
        flowLength = await findFlowLength(takeOf(recipe).take, times, recipe.span, cut, longest);
        return flowLength;
      };
      const pace = { ...pacedSpan(recipe, times), cuts };
      const advice = isReelSeen(recipe)
        ? await adviseJoin(pace, recipe.loop, { scoreOf, flowLength: lengthOf })
        : null;
      const closed = candidates.filter(({ join }) => !joinOf(join).isLed);
      let flowing: readonly SeamPlace[] = candidates.filter(({ join }) => joinOf(join).isLed);
      let figures = smoothness.get(smoothKey(recipe))?.figures ?? null;
      const found = (): BetterSeams => {
        return { advice, candidates: withFlowing(closed, flowing), smoothness: figures, flowLength };
      };
      yield found();
      figures = await smoothnessOf(recipe);
      yield found();
      async function* measureCuts(from: number, to: number): AsyncGenerator<BetterSeams> {
        for (let i = from; i < Math.min(to, closed.length); i++) {
          const cut = closed[i].isMeasured ? null : cutAt(recipe, closed[i]);
          if (!cut) continue;
          closed[i] = { ...closed[i], ...rescored(closed[i], await scoreOf(cut)), isMeasured: true };
          yield found();
        }
      }
      yield* measureCuts(0, MEASURED_FIRST);
      // A cut that nobody sees changes the footage less.
      if (isReelSeen(recipe) && !closed.some(isGoodPlace)) {
        for await (const places of flows.find(flowQuestion(recipe, moving, search), hear)) {
          flowing = places;
          yield found();
        }
      }
      yield* measureCuts(MEASURED_FIRST, closed.length);
    },
  };
}

/** The reel of a recipe; null where it cannot be made. */
export function loopOrNone(recipe: Recipe, times: FrameTimes): LoopReel | null {
  try {
    return loopOf(recipe, { times });
  } catch (error) {
    if (error instanceof UserError) return null;
    throw error;
  }
}

/** The span of a piece at its pace. */
export function pacedSpan(
  { sources: [source], span, weigh }: Recipe,
  times: FrameTimes,
): Omit<PacedSpan, 'cuts'> {
  return { times, span, rate: weigh.frameRate, every: source.kind === 'footage' ? source.every : 1 };
}

/** What is woven is measured on what was woven. */
function isWoven({ loop: { join }, span }: Recipe): boolean {
  const closing = joinOf(join);
  return closing.woven !== undefined && !closing.missing?.(join, span);
}

/** Where every ripple goes round by itself, the joint of the reel is not seen. */
function isReelSeen({ still }: Recipe): boolean {
  const shown = still.plate ? still.ripples.filter((ripple) => ripple.shown) : [];
  return shown.length === 0 || shown.some(({ loop }) => loop === null);
}

function isGoodPlace({ score, isMeasured }: SeamPlace): boolean {
  return isMeasured && isUnnoticed(score);
}
