import { footageKey } from '@muted-pond/core/identity';
import { lookBytes, lookSize } from '@muted-pond/core/loop';
import { Inject, Injectable } from '@nestjs/common';
import { BlobStore } from '../blobs/index.js';
import { PictureCache } from '../cache/index.js';
import { SharedJobs } from '../jobs/index.js';
import { readLooks } from '../media/index.js';
import { fileGone } from './file-gone.js';
import type { Footage } from './footage.entity.js';

const LOOKS = footageKey('looks');
/** Frames that are kept in one file of the cache, and decoded together. */
export const LOOKS_PART = 64;

/**
 * Looks of footage, kept in the cache part by part. Those of short footage come with its signatures, from the same
 * decoding; else each part is made where it is asked for.
 */
@Injectable()
export class LooksService {
  constructor(
    @Inject(BlobStore) private readonly blobs: BlobStore,
    @Inject(PictureCache) private readonly cache: PictureCache,
    @Inject(SharedJobs) private readonly jobs: SharedJobs,
  ) {}

  /**
   * The looks of frames from one to another, exclusive, one after the other.
   * @param from and to frames inside the footage.
   * @throws Problem when the file is gone from the disk.
   * @throws UserError where the footage cannot be read.
   */
  async looks(footage: Footage, from: number, to: number): Promise<Buffer> {
    const bytes = lookBytes(lookSize(footage.facts));
    const taken: Buffer[] = [];
    for (let part = Math.floor(from / LOOKS_PART); part * LOOKS_PART < to; part++) {
      const first = part * LOOKS_PART;
      const last = Math.min(to, first + LOOKS_PART);
      const [begin, end] = [(Math.max(from, first) - first) * bytes, (last - first) * bytes];
      const kept = await this.cache.getPart(footage.hash, LOOKS, part, begin, end);
      taken.push(kept ?? (await this.part(footage, part)).subarray(begin, end));
    }
    return Buffer.concat(taken);
  }

  /** Keeps the looks of all frames of a part. */
  keep({ hash }: Footage, part: number, looks: Uint8Array): Promise<void> {
    return this.cache.put(hash, LOOKS, part, looks);
  }

  private part(footage: Footage, part: number): Promise<Buffer> {
    const { hash } = footage;
    return this.jobs.run({
      ...{ key: `${hash}/${footageKey('looks', part)}`, owner: hash, queue: 'decoder' },
      run: ({ signal }) => this.make(footage, part, signal),
    });
  }

  private async make(footage: Footage, part: number, signal: AbortSignal): Promise<Buffer> {
    const { hash, name, facts } = footage;
    if (!(await this.blobs.has(hash))) throw fileGone(footage);
    const first = part * LOOKS_PART;
    const count = Math.min(LOOKS_PART, facts.ticks.length - first);
    const path = this.blobs.pathOf(hash);
    const made = await readLooks({ path, name, facts, signal }, first, first + count);
    signal.throwIfAborted();
    await this.keep(footage, part, made);
    return Buffer.from(made.buffer);
  }
}
