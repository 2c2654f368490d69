import { UserError } from '@muted-pond/core/errors';

/** Concurrent fetches: few, so that the stage's frames never wait for a connection. */
const MOST_AT_ONCE = 2;

interface Wanted {
  readonly url: string;
  readonly onThere: () => void;
}

/** Fetches pictures a few at a time, in the order in which they were asked for. */
export interface PictureQueue {
  /**
   * Calls back once the picture can be shown without waiting.
   * @returns a function that takes the wish back.
   */
  want(url: string, onThere: () => void): () => void;
}

/** @param load resolves when the picture is there; ends early when it is no longer wanted. */
export function createPictureQueue(load: (url: string, signal: AbortSignal) => Promise<void>): PictureQueue {
  const waiting: Wanted[] = [];
  const loading = new Map<Wanted, AbortController>();

  function pump(): void {
    while (loading.size < MOST_AT_ONCE) {
      const next = waiting.shift();
      if (!next) return;
      const abort = new AbortController();
      loading.set(next, abort);
      load(next.url, abort.signal)
        .then(() => !abort.signal.aborted && next.onThere())
        .catch(() => {}) // the rough picture stays; it is asked for again when the strip moves
        .finally(() => {
          loading.delete(next);
          pump();
        });
    }
  }

  return {
    want(url, onThere) {
      const wish: Wanted = { url, onThere };
      waiting.push(wish);
      pump();
      return () => {
        const place = waiting.indexOf(wish);
        if (place >= 0) waiting.splice(place, 1);
        loading.get(wish)?.abort();
      };
    },
  };
}

/** Fetches into the browser's cache, where the picture's address keeps it for ever. */
export const pictureQueue = createPictureQueue(async (url, signal) => {
  const response = await fetch(url, { signal });
  if (!response.ok) throw new UserError('unreachable', `${url} cannot be had.`);
  await response.blob();
});
