import { seamsKey } from '@muted-pond/core/derived';
import { seamWindow } from '@muted-pond/core/loop';
import { SIGNATURE_BYTES } from '@muted-pond/core/motion';
import type { Size } from '@muted-pond/core/pixels';
import type { StillSettings } from '@muted-pond/core/still';
import type { FrameTimes } from '@muted-pond/core/timing';
import { useEffect } from 'react';
import { useStore } from 'zustand';
import { useSignatures } from '../api/signatures.js';
import { type PieceStore, shownRecipe } from '../store/piece-store.js';
import { sentenceOf } from '../ui/sentence.js';
import { SeamClient, type SeamPart } from './seam-client.js';
import { NOTHING_KNOWN, type SeamState, type SeamStore } from './seam-store.js';
import { ALL_MOVES, type MovingPlaces } from './seam-work.js';

const ENDED_AGAIN =
  'Looking for seams in this footage ended again and again. Shorten the span, or reload this page; the next change tries once more.';

/** Pauses before a joint that could not be measured is tried again, ms; then the next change tries. */
const PAUSES_MS = [2000, 8000, 30_000];

/** Of which piece seams are looked for. */
interface SeamKeeping {
  readonly store: PieceStore;
  readonly seams: SeamStore;
  readonly take: {
    readonly times: FrameTimes;
    readonly size: Size;
    readonly frameCount: number;
    readonly footage: { readonly id: string } | null;
  };
  /** What moves of a picture that is held; the same function always. */
  movingPlaces(still: StillSettings, take: Size): Promise<MovingPlaces>;
}

/**
 * Keeps the seam store up to date with the recipe: a worker answers whenever something changes, the newest
 * question first.
 */
export function useSeamKeeper({ store, seams, take, movingPlaces }: SeamKeeping): void {
  const span = useStore(store, (state) => shownRecipe(state).span);
  const window = seamWindow(take.frameCount, span);
  const footage = take.frameCount > 1 ? (take.footage?.id ?? null) : null;
  const { data: signatures, error } = useSignatures(footage, window);
  const unread = error ? sentenceOf(error) : null;
  const isWhole = signatures?.length === (window.end - window.start) * SIGNATURE_BYTES;

  useEffect(() => {
    if (!footage) return seams.setState({ status: 'none', ...NOTHING_KNOWN });
    if (!signatures || !isWhole) {
      return seams.setState({ status: unread ? 'failed' : 'reading', problem: unread, ...NOTHING_KNOWN });
    }
    const { times, size } = take;
    const client = new SeamClient(
      {
        type: 'footage',
        ...{ footage, signatures, times, size },
        window: { start: window.start, end: window.end },
      },
      {
        open: () => new Worker(new URL('./seam.worker.ts', import.meta.url), { type: 'module' }),
        answered(part) {
          seams.setState(stateAfter(part));
          if (part.type === 'unmeasured') askAgainLater();
          if (part.type !== 'better') askIfChanged();
        },
        failed: () =>
          seams.setState({ status: 'failed', problem: ENDED_AGAIN, ...NOTHING_KNOWN, stale: false }),
      },
    );
    let asked = 0;
    let failures = 0;
    let later: ReturnType<typeof setTimeout> | undefined;
    const askAgainLater = () => {
      const pause = PAUSES_MS[failures++];
      if (pause !== undefined) later = setTimeout(ask, pause);
    };
    let moving: MovingPlaces = ALL_MOVES;
    let movingOf: StillSettings | null = null;
    let question = questionNow();
    const ask = () => {
      clearTimeout(later);
      question = questionNow();
      const { recipe, within, length, places } = question;
      client.ask({ type: 'question', id: ++asked, recipe, within, length, moving: places });
    };
    // One question at a time; a change meanwhile is asked after the answer.
    const askIfChanged = () => {
      followMask();
      const now = questionNow();
      if (now.key === question.key && now.places === question.places) return;
      const { stale, isMeasureStale } = seams.getState();
      if (!stale || !isMeasureStale) seams.setState({ stale: true, isMeasureStale: true });
      if (client.isBusy) return;
      failures = 0;
      ask();
    };
    const findRounds = async () => {
      const recipe = shownRecipe(store.getState());
      const places = await movingPlaces(recipe.still, size);
      const { length } = seams.getState();
      return client.commonRound({ type: 'common-round', recipe, length, moving: places });
    };
    seams.setState({ findRounds });
    function questionNow() {
      const { within, length } = seams.getState();
      const recipe = shownRecipe(store.getState());
      return { recipe, within, length, places: moving, key: seamsKey(recipe, { within, length }) };
    }
    // Masks are pictures that must be fetched; what moves is asked about once they are there.
    function followMask() {
      const { still } = shownRecipe(store.getState());
      if (still === movingOf) return;
      movingOf = still;
      movingPlaces(still, size).then(
        (places) => {
          if (movingOf !== still) return;
          moving = places;
          askIfChanged();
        },
        () => {}, // the stage says that paint is gone
      );
    }
    ask();
    followMask();
    const unfollow = [store.subscribe(askIfChanged), seams.subscribe(askIfChanged)];
    return () => {
      for (const end of unfollow) end();
      clearTimeout(later);
      client.end();
      seams.setState({ findRounds: null });
    };
  }, [footage, signatures, isWhole, unread, take, window.start, window.end, store, seams, movingPlaces]);
}

/** What is known after a part of an answer. */
function stateAfter(part: SeamPart): Partial<SeamState> {
  switch (part.type) {
    case 'found':
      return { status: 'ready', problem: null, found: part.found, better: null, stale: false };
    case 'measured':
      return { measured: part.measured, unmeasured: null, isMeasureStale: false };
    case 'unmeasured':
      return { measured: null, unmeasured: part.problem, isMeasureStale: false };
    case 'better':
      return { better: part.better };
  }
}
