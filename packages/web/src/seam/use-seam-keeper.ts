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
import { SeamClient } from './seam-client.js';
import type { SeamStore } from './seam-store.js';
import { ALL_MOVES, type MovingPlaces } from './seam-work.js';

const ENDED_AGAIN =
  'Looking for seams in this footage ended again and again. Shorten the span, or reload this page; the next change tries once more.';

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
    if (!footage) return seams.setState({ status: 'none', answer: null });
    if (!signatures || !isWhole) {
      return seams.setState({ status: unread ? 'failed' : 'reading', problem: unread, answer: null });
    }
    const { times, size } = take;
    const client = new SeamClient(
      { type: 'footage', signatures, window: { start: window.start, end: window.end }, times, size },
      {
        open: () => new Worker(new URL('./seam.worker.ts', import.meta.url), { type: 'module' }),
        answered({ answer }) {
          seams.setState({ status: 'ready', problem: null, answer, stale: false });
          askIfChanged();
        },
        failed: () => seams.setState({ status: 'failed', problem: ENDED_AGAIN, answer: null, stale: false }),
      },
    );
    let asked = 0;
    let moving: MovingPlaces = ALL_MOVES;
    let movingOf: StillSettings | null = null;
    let question = questionNow();
    const ask = () => {
      question = questionNow();
      const { recipe, within, length, places } = question;
      client.look({ type: 'look', id: ++asked, recipe, within, length, moving: places });
    };
    // One question at a time; a change meanwhile is asked after the answer.
    const askIfChanged = () => {
      followMask();
      const now = questionNow();
      if (now.key === question.key && now.places === question.places) return;
      if (!seams.getState().stale) seams.setState({ stale: true });
      if (!client.isBusy) ask();
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
      client.end();
      seams.setState({ findRounds: null });
    };
  }, [footage, signatures, isWhole, unread, take, window.start, window.end, store, seams, movingPlaces]);
}
