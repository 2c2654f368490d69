import { sizeWithin } from '@muted-pond/core/pixels';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { decodeFrames } from '../media/index.js';
import { BlobStore, PictureCache } from '../storage/index.js';
import { Turns } from '../work/index.js';
import type { Footage } from './footage.entity.js';

/** Longer side of a working frame, px. */
const WORKING_LONG_SIDE = 960;
/** Frames decoded together when one of them is asked for. */
const SEGMENT_FRAMES = 24;
/** Footage up to this long is made ready whole, so that scrubbing never waits for the decoder. */
const READY_FRAMES = 900;
/** Memory for frames that were made a moment ago, bytes. */
const MOST_RECENT_BYTES = 192 * 1024 ** 2;

interface Waiter {
  resolve(data: Buffer): void;
  reject(error: unknown): void;
}

/** Working frames for the stage: by index, exact, immutable, kept in memory and on disk. */
@Injectable()
export class FrameService implements OnApplicationShutdown {
  private readonly log = new Logger('frames');
  private readonly turns = new Turns(2);
  private readonly recent = new Map<string, Buffer>();
  private recentBytes = 0;
  private readonly waiting = new Map<string, Waiter[]>();
  private readonly segments = new Set<string>();
  private readonly closing = new AbortController();

  constructor(
    @Inject(BlobStore) private readonly blobs: BlobStore,
    @Inject(PictureCache) private readonly cache: PictureCache,
  ) {}

  onApplicationShutdown(): void {
    this.closing.abort();
  }

  /** The frame as JPEG. @throws MediaError when the file gives no picture there. */
  async frame(footage: Footage, frame: number): Promise<Buffer> {
    const key = `${footage.hash}/${frame}`;
    const kept = this.recent.get(key) ?? (await this.cache.get(footage.hash, 'frames', frame));
    if (kept) {
      this.remember(key, kept);
      return kept;
    }
    return new Promise<Buffer>((resolve, reject) => {
      const waiters = this.waiting.get(key);
      if (waiters) waiters.push({ resolve, reject });
      else this.waiting.set(key, [{ resolve, reject }]);
      const segment = Math.floor(frame / SEGMENT_FRAMES);
      void this.decodeSegment(footage, segment);
    });
  }

  /** Makes all working frames of short footage, in the background. */
  async prepare(footage: Footage): Promise<void> {
    const total = footage.facts.ticks.length;
    if (total > READY_FRAMES) return;
    const missing: number[] = [];
    for (let frame = 0; frame < total; frame++) {
      if (!(await this.cache.get(footage.hash, 'frames', frame))) missing.push(frame);
    }
    await this.turns
      .run(() => this.decode(footage, missing, true), 'background')
      .catch((error: unknown) => {
        if (!this.closing.signal.aborted) this.log.warn(`Frames of ${footage.name}: ${error}`);
      });
  }

  private async decodeSegment(footage: Footage, segment: number): Promise<void> {
    const id = `${footage.hash}/${segment}`;
    if (this.segments.has(id)) return;
    this.segments.add(id);
    const from = segment * SEGMENT_FRAMES;
    const to = Math.min(footage.facts.ticks.length, from + SEGMENT_FRAMES);
    const frames = Array.from({ length: to - from }, (_, i) => from + i);
    let failure: unknown = new Error('The decoder gave no picture.');
    try {
      await this.turns.run(() => this.decode(footage, frames));
    } catch (error) {
      failure = error;
    } finally {
      this.segments.delete(id);
    }
    for (const frame of frames) this.settle(`${footage.hash}/${frame}`, (waiter) => waiter.reject(failure));
  }

  private async decode(footage: Footage, frames: readonly number[], background = false): Promise<void> {
    const decoded = decodeFrames({
      path: this.blobs.pathOf(footage.hash),
      name: footage.name,
      facts: footage.facts,
      frames,
      size: sizeWithin(footage.facts, WORKING_LONG_SIDE),
      format: 'jpeg',
      background,
      signal: this.closing.signal,
    });
    for await (const { frame, data } of decoded) {
      const key = `${footage.hash}/${frame}`;
      const own = Buffer.from(data);
      this.remember(key, own);
      this.settle(key, (waiter) => waiter.resolve(own));
      await this.cache.put(footage.hash, 'frames', frame, own);
    }
  }

  private settle(key: string, tell: (waiter: Waiter) => void): void {
    const waiters = this.waiting.get(key);
    if (!waiters) return;
    this.waiting.delete(key);
    waiters.forEach(tell);
  }

  private remember(key: string, data: Buffer): void {
    const before = this.recent.get(key);
    if (before) {
      this.recent.delete(key);
      this.recentBytes -= before.length;
    }
    this.recent.set(key, data);
    this.recentBytes += data.length;
    for (const [oldest, old] of this.recent) {
      if (this.recentBytes <= MOST_RECENT_BYTES) break;
      this.recent.delete(oldest);
      this.recentBytes -= old.length;
    }
  }
}
