import type { MotionView } from '@muted-pond/core/api';
import { footageKey } from '@muted-pond/core/identity';
import { Inject, Injectable } from '@nestjs/common';
import { BlobStore } from '../blobs/index.js';
import { PictureCache } from '../cache/index.js';
import { JobPool, runInThread, SharedJobs } from '../jobs/index.js';
import { THREAD_ENDING } from '../processes/index.js';
import { fileGone } from './file-gone.js';
import type { Footage } from './footage.entity.js';

const WORKER = new URL(`./map-motion.worker.${THREAD_ENDING}`, import.meta.url).href;

/** Where a stretch of footage moves: found when it is asked for, kept in the cache. */
@Injectable()
export class MotionService {
  constructor(
    @Inject(BlobStore) private readonly blobs: BlobStore,
    @Inject(PictureCache) private readonly cache: PictureCache,
    @Inject(JobPool) private readonly pool: JobPool,
    @Inject(SharedJobs) private readonly jobs: SharedJobs,
  ) {}

  /**
   * @param from and to frames, end exclusive; inside the footage.
   * @throws Problem when the file is gone from the disk.
   * @throws UserError where the footage cannot be read.
   */
  async motion(footage: Footage, from: number, to: number): Promise<MotionView> {
    const { hash } = footage;
    const key = footageKey('motion', from, to);
    const kept = await this.cache.get(hash, key, 0);
    if (kept) return JSON.parse(kept.toString()) as MotionView;
    return this.jobs.run({
      key: `${hash}/${key}`,
      owner: hash,
      queue: 'threads',
      run: async ({ signal }) => {
        if (!(await this.blobs.has(hash))) throw fileGone(footage);
        const map = await this.look(footage, from, to, signal);
        await this.cache.put(hash, key, 0, Buffer.from(JSON.stringify(map)));
        return map;
      },
    });
  }

  private look(
    { facts, hash, name }: Footage,
    from: number,
    to: number,
    signal: AbortSignal,
  ): Promise<MotionView> {
    const file = { hash, path: this.blobs.pathOf(hash), name, facts };
    const task = { file, span: { start: from, end: to } };
    return runInThread<never, MotionView>(this.pool, task, { filename: WORKER, signal }, () => {});
  }
}
