import {
  adviseJoin,
  type FlowPlacesAsk,
  findFlowLength,
  findFlowPlaces,
  isSameLoop,
  JOINS,
  joinOf,
  type LoopReel,
  type MeasuredTake,
  type PacedSpan,
  rescored,
  type SeamCandidate,
  seamVerdict,
} from '@muted-pond/core/loop';
import type { Recipe } from '@muted-pond/core/recipe';
import type { Span } from '@muted-pond/core/timing';
import { LRUCache } from 'lru-cache';
import type { SeamPlace } from './seam-work.js';

/** Searches whose places are kept. */
const MOST_KEPT = 8;
/** Joins that lead things along a flow. */
const LED_KINDS = JOINS.filter(({ isLed }) => isLed).map(({ kind }) => kind);

/** Where places to join are looked for. */
export interface PlaceSearch extends Pick<FlowPlacesAsk, 'window' | 'within' | 'length'> {
  /** A place that was found in another way than by comparing frames. */
  readonly candidateAt: (span: Span) => SeamCandidate;
}

/** What is asked: where, of what take, and how the loop is shown. */
export interface FlowQuestion {
  readonly loop: Recipe['loop'];
  readonly pace: PacedSpan;
  readonly search: PlaceSearch;
  readonly take: MeasuredTake;
  /** How much each pixel of a look counts, 0–1. */
  readonly weights: Float32Array | null;
  /** What take and weights depend on. */
  readonly seen: string;
  /** How unnoticeable a joint is, 0–100; 0 for one that must not be proposed. */
  readonly scoreOf: (loop: LoopReel) => Promise<number>;
}

/** Finds places at which the end of a loop can flow into its start, and keeps them. */
export interface FlowSearch {
  /** Those that were found before. */
  known(question: FlowQuestion): readonly SeamPlace[];
  /**
   * One more measured each time; none where they are known.
   * @param hear called now and then; ends the search by throwing. @throws what measuring throws.
   */
  find(question: FlowQuestion, hear: () => Promise<void>): AsyncGenerator<readonly SeamPlace[]>;
}

export function createFlowSearch(): FlowSearch {
  const spans = new LRUCache<string, readonly Span[]>({ max: MOST_KEPT });
  const places = new LRUCache<string, readonly SeamPlace[]>({ max: MOST_KEPT });
  return {
    known: (question) => places.get(keysOf(question).places) ?? [],
    async *find(question, hear) {
      const keys = keysOf(question);
      if (places.has(keys.places)) return;
      const { take, pace, search, weights } = question;
      const ask = { ...search, every: pace.every, weights };
      const tried = spans.get(keys.spans) ?? (await findFlowPlaces(take, pace.times, ask, hear));
      spans.set(keys.spans, tried);
      const found: SeamPlace[] = [];
      for (const span of tried) {
        await hear();
        const place = await placeAt(question, span);
        if (!place) continue;
        found.push(place);
        yield [...found];
      }
      places.set(keys.places, found);
    },
  };
}

/** Where a search looks, and how what it finds would be shown. */
function keysOf({ loop, pace, search: { window, within, length }, seen }: FlowQuestion) {
  const spans = JSON.stringify([window, within, length, pace.every, seen]);
  const { join, edits, repeats, ...shown } = loop;
  return { spans, places: JSON.stringify([spans, pace.rate, shown]) };
}

/** A place with the flow that suits it; null where it would be plain to see. */
async function placeAt(
  { loop, pace, search, take, scoreOf }: FlowQuestion,
  span: Span,
): Promise<SeamPlace | null> {
  const flowLength = (cut: LoopReel, longest: number) => findFlowLength(take, pace.times, span, cut, longest);
  const settings = { ...loop, edits: [] };
  const { join, score } = await adviseJoin({ ...pace, span }, settings, { scoreOf, flowLength }, LED_KINDS);
  if (!joinOf(join).isLed || seamVerdict(score) === 'plain') return null;
  return { ...rescored(search.candidateAt(span), score), join, isMeasured: true };
}

/** All places; of two that are nearly one, what flows goes unless it is seen less. */
export function withFlowing(
  places: readonly SeamPlace[],
  flowing: readonly SeamPlace[],
): readonly SeamPlace[] {
  const isBetter = (place: SeamPlace) =>
    places.every((other) => !isSameLoop(other, place) || !other.isMeasured || other.score < place.score);
  return [...places, ...flowing.filter(isBetter)];
}
