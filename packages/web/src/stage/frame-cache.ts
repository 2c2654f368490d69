/** Frames of one footage as bitmaps, fetched by index, the latest wanted first. */
export interface FrameCache {
  /** The bitmap if it is there now. */
  get(frame: number): ImageBitmap | null;
  /** Asks for a frame; resolves when it can be drawn. @throws when it cannot be had. */
  load(frame: number): Promise<ImageBitmap>;
  /** Asks for frames that will be wanted soon; at most a few at a time. */
  prefetch(frames: readonly number[]): void;
  close(): void;
}

/** Bitmaps kept; at 960 px each is 2 MB. */
const MOST_BITMAPS = 140;
/** Encoded frames kept, so that a bitmap can be made again without asking the server. */
const MOST_BLOBS = 3000;
const MOST_PREFETCHES = 4;

export function createFrameCache(urlOf: (frame: number) => string): FrameCache {
  const bitmaps = new Map<number, ImageBitmap>();
  const blobs = new Map<number, Blob>();
  const loading = new Map<number, Promise<ImageBitmap>>();
  let soon: number[] = [];
  let prefetching = 0;
  let closed = false;

  function keep(frame: number, bitmap: ImageBitmap): void {
    bitmaps.get(frame)?.close();
    bitmaps.set(frame, bitmap);
    for (const [oldest, old] of bitmaps) {
      if (bitmaps.size <= MOST_BITMAPS) break;
      bitmaps.delete(oldest);
      old.close();
    }
  }

  async function fetchBlob(frame: number): Promise<Blob> {
    const kept = blobs.get(frame);
    if (kept) return kept;
    const response = await fetch(urlOf(frame));
    if (!response.ok) throw new Error(`Frame ${frame} cannot be shown.`);
    const blob = await response.blob();
    blobs.set(frame, blob);
    if (blobs.size > MOST_BLOBS) blobs.delete(blobs.keys().next().value as number);
    return blob;
  }

  function load(frame: number): Promise<ImageBitmap> {
    const there = bitmaps.get(frame);
    if (there) {
      bitmaps.delete(frame);
      bitmaps.set(frame, there);
      return Promise.resolve(there);
    }
    const already = loading.get(frame);
    if (already) return already;
    const promise = fetchBlob(frame)
      .then((blob) => createImageBitmap(blob))
      .then((bitmap) => {
        if (closed) bitmap.close();
        else keep(frame, bitmap);
        return bitmap;
      })
      .finally(() => loading.delete(frame));
    loading.set(frame, promise);
    return promise;
  }

  function pump(): void {
    while (!closed && prefetching < MOST_PREFETCHES && soon.length > 0) {
      const frame = soon.shift() as number;
      if (bitmaps.has(frame) || loading.has(frame)) continue;
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
    close() {
      closed = true;
      for (const bitmap of bitmaps.values()) bitmap.close();
      bitmaps.clear();
      blobs.clear();
    },
  };
}
