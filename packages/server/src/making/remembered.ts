import { totalmem } from 'node:os';
import type { PixelFrame } from '@muted-pond/core/pixels';
import { LRUCache } from 'lru-cache';
import { CORES } from '../threads/index.js';

/**
 * All that all threads together remember at most: a part of the machine's memory, and never more than is of
 * use. Bytes.
 */
const MOST_BYTES = Math.min(320 * 1024 ** 2, totalmem() / 10);

/** What one thread remembers: pictures of any kind, those that were not wanted for longest making room. */
export const remembered = new LRUCache<string, { readonly frames: readonly PixelFrame[] }>({
  maxSize: Math.floor(MOST_BYTES / CORES),
  sizeCalculation: ({ frames }) => Math.max(1, new Set(frames).size * (frames[0]?.rgba.length ?? 1)),
});
