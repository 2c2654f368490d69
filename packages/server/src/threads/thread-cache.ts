import { totalmem } from 'node:os';
import type { PixelFrame } from '@muted-pond/core/pixels';
import { LRUCache } from 'lru-cache';
import { CORES } from './cores.js';

/** Bytes that the caches of all threads take together: a part of the machine's memory, with an upper bound. */
const MOST_BYTES = Math.min(320 * 1024 ** 2, totalmem() / 10);

/** The pictures that one thread keeps between its jobs, of any kind; the least recently used are evicted. */
export const threadCache = new LRUCache<string, { readonly frames: readonly PixelFrame[] }>({
  maxSize: Math.floor(MOST_BYTES / CORES),
  sizeCalculation: ({ frames }) => Math.max(1, new Set(frames).size * (frames[0]?.rgba.length ?? 1)),
});
