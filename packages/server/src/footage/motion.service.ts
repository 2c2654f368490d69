import type { MotionView } from '@muted-pond/core/api';
import { footageKey } from '@muted-pond/core/identity';
import { Inject, Injectable } from '@nestjs/common';
import { PictureCache } from '../disk/index.js';
import { JobPool, TaskQueue } from '../jobs/index.js';
import { THREAD_ENDING } from '../processes/index.js';
import { BlobStore } from '../storage/index.js';
import type { Footage } from './footage.entity.js';

const WORKER = new URL(`./map-motion.worker.${THREAD_ENDING}`, import.meta.url).href;

/** Where a stretch of footage moves: found when it is asked for, kept in the cache. */
@Injectable()
export class MotionService {
  private readonly queue = new TaskQueue(1);

  constructor(
    @Inject(BlobStore) private readonly blobs: BlobStore,
    @Inject(PictureCache) private readonly cache: PictureCache,
    @Inject(JobPool) private readonly pool: JobPool,
  ) {}

  /** @param from and to frames, end exclusive; inside the footage. */
  motion(footage: Footage, from: number, to: number): Promise<MotionView> {
    return this.queue.run(async () => {
      const kind = footageKey('motion', from, to);
      const kept = await this.cache.get(footage.hash, kind, 0);
      if (kept) return JSON.parse(kept.toString()) as MotionView;
      const map = await this.look(footage, from, to);
      await this.cache.put(footage.hash, kind, 0, Buffer.from(JSON.stringify(map)));
      return map;
    });
  }

  private look({ facts, hash, name }: Footage, from: number, to: number): Promise<MotionView> {
    const file = { hash, path: this.blobs.pathOf(hash), name, facts };
    return this.pool.run({ file, span: { start: from, end: to } }, { filename: WORKER });
  }
}
