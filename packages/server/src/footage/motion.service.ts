import type { MotionView } from '@muted-pond/core/api';
import { Inject, Injectable } from '@nestjs/common';
import { mapFootage } from '../making/index.js';
import { BlobStore, PictureCache } from '../storage/index.js';
import { Turns } from '../work/index.js';
import type { Footage } from './footage.entity.js';

/** Where a stretch of footage moves: found when it is asked for, kept in the cache. */
@Injectable()
export class MotionService {
  private readonly turns = new Turns(1);

  constructor(
    @Inject(BlobStore) private readonly blobs: BlobStore,
    @Inject(PictureCache) private readonly cache: PictureCache,
  ) {}

  /** @param from and to frames, end exclusive; inside the footage. */
  motion(footage: Footage, from: number, to: number): Promise<MotionView> {
    return this.turns.run(async () => {
      const kind = `motion-${from}-${to}`;
      const kept = await this.cache.get(footage.hash, kind, 0);
      if (kept) return JSON.parse(kept.toString()) as MotionView;
      const map = await this.look(footage, from, to);
      await this.cache.put(footage.hash, kind, 0, Buffer.from(JSON.stringify(map)));
      return map;
    }, 'urgent');
  }

  private async look(footage: Footage, from: number, to: number): Promise<MotionView> {
    const { facts, hash, name } = footage;
    const file = { path: this.blobs.pathOf(hash), name, facts };
    const { width, height, labels, parts } = await mapFootage(file, { start: from, end: to });
    return {
      width,
      height,
      labels: Buffer.from(labels).toString('base64'),
      parts: parts.map(({ area, spread }) => ({ area, spread })),
    };
  }
}
