import { UserError } from '@muted-pond/core/errors';
import { LRUCache } from 'lru-cache';
import { type RetryPolicy, retryAfter } from '../api/retry.js';

/** Frames as bitmaps by their keys (see `frameKey`), the latest wanted first. */
export interface FrameCache {
  /** The bitmap if it is there now. */
  get(frame: string): ImageBitmap | null;
  /**
   * Asks for a frame; resolves when it can be drawn. One that could not be had is asked for again only after
   * a while, and after some failures no more: until then the same error is given.
   * @throws when it cannot be had.
   */
  load(frame: string): Promise<ImageBitmap>;
  /** Asks for frames that will be wanted soon; at most a few at a time. */
  prefetch(frames: readonly string[]): void;
  /** After a reconnect, failed frames may be requested at once. */
  forgive(): void;
  /** Clears the cache; later requests fetch anew. */
  clear(): void;
}

/** Bitmaps kept; at 960 px each is 2 MB. */
const MOST_BITMAPS = 140;
/** Encoded frames kept, so that a bitmap can be made again without asking the server. */
const MOST_BLOBS = 3000;
const MOST_PREFETCHES = 4;

const RETRIES: RetryPolicy = { firstMs: 500, longestMs: 16_000, most: 6 };

interface Failure {
  readonly error: Error;
  readonly count: number;
  /** When it may be asked for again, ms; never at infinity. */
  readonly until: number;
}

/** Status codes of permanent failures. */
class FrameRefused extends UserError {
  override readonly name = 'FrameRefused';
}

/** @param now tells the time, ms. */
export function createFrameCache(
  urlOf: (frame: string) => string,
  now: () => number = () => performance.now(),
): FrameCache {
  const bitmaps = new LRUCache<string, ImageBitmap>({
    max: MOST_BITMAPS,
    dispose: (bitmap) => bitmap.close(),
  });
  const blobs = new LRUCache<string, Blob>({ max: MOST_BLOBS });
  const loading = new Map<string, Promise<ImageBitmap>>();
  const failures = new Map<string, Failure>();
  let soon: string[] = [];
  let prefetching = 0;

  async function fetchBlob(frame: string): Promise<Blob> {
    const kept = blobs.get(frame);
    if (kept) return kept;
    const response = await fetch(urlOf(frame));
    if (!response.ok) {
      const isFinal = response.status >= 400 && response.status < 500;
      throw new (isFinal ? FrameRefused : UserError)('frame_unreadable', await reasonOf(response));
    }
    const blob = await response.blob();
    blobs.set(frame, blob);
    return blob;
  }

  function load(frame: string): Promise<ImageBitmap> {
    const there = bitmaps.get(frame);
    if (there) return Promise.resolve(there);
    const already = loading.get(frame);
    if (already) return already;
    const failure = failures.get(frame);
    if (failure && now() < failure.until) return Promise.reject(failure.error);
    const promise = fetchBlob(frame)
      .then((blob) => createImageBitmap(blob))
      .then(
        (bitmap) => {
          failures.delete(frame);
          bitmaps.set(frame, bitmap);
          return bitmap;
        },
        (error: Error) => {
          const count = (failure?.count ?? 0) + 1;
          const wait = error instanceof FrameRefused ? null : retryAfter(count, RETRIES);
          failures.set(frame, {
            error,
            count,
            until: wait === null ? Number.POSITIVE_INFINITY : now() + wait,
          });
          throw error;
        },
      )
      .finally(() => loading.delete(frame));
    loading.set(frame, promise);
    return promise;
  }

  function pump(): void {
    while (prefetching < MOST_PREFETCHES && soon.length > 0) {
      const frame = soon.shift() as string;
      if (bitmaps.has(frame) || loading.has(frame) || failures.has(frame)) continue;
      prefetching++;
      load(frame)
        .catch(() => {}) // it is asked for again when it is due, and said then
        .finally(() => {
          prefetching--;
          pump();
        });
    }
  }

  return {
    get: (frame) => bitmaps.get(frame) ?? null,
    load,
    prefetch(frames) {
      soon = [...frames];
      pump();
    },
    forgive: () => failures.clear(),
    clear() {
      soon = [];
      failures.clear();
      bitmaps.clear();
      blobs.clear();
    },
  };
}

/** The server's sentence, where it has one. */
async function reasonOf(response: Response): Promise<string> {
  const body: unknown = await response.json().catch(() => null);
  const title = (body as { title?: unknown } | null)?.title;
  return typeof title === 'string' ? title : 'This frame cannot be shown.';
}
