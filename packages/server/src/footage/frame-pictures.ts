import { UserError } from '@muted-pond/core/errors';
import type { Size } from '@muted-pond/core/pixels';
import { LRUCache } from 'lru-cache';
import type { BlobStore } from '../blobs/index.js';
import type { PictureCache } from '../cache/index.js';
import type { TaskQueue } from '../jobs/index.js';
import { decodeFrames } from '../media/index.js';
import { Problem } from '../problems/index.js';
import { fileGone } from './file-gone.js';
import type { Footage } from './footage.entity.js';

/** One size in which frames are made for the eye. */
export interface PictureKind {
  /** The folder of the cache they are kept in. */
  readonly folder: string;
  readonly sizeOf: (footage: Footage) => Size;
  /**
   * Sorts frames that are asked for into runs of the decoder; a run may hold more, what the hand will
   * probably want next.
   */
  readonly runsOf: (footage: Footage, frames: readonly number[]) => number[][];
  /** How long requests are gathered before they are sorted into runs, ms. */
  readonly gatherMs: number;
  /** Gives way to frames in other sizes. */
  readonly background: boolean;
  /** Memory for those that were made a moment ago, bytes. */
  readonly recentBytes: number;
  /** A quicker way than the decoder, where there is one. */
  readonly shortcut?: (footage: Footage, frame: number) => Promise<Buffer | null>;
}

interface Waiter {
  resolve(data: Buffer): void;
  reject(error: unknown): void;
}

/**
 * Frames for the eye in one size: by index, exact, immutable, kept in memory and on disk, made when asked
 * for.
 */
export class FramePictures {
  private readonly recent: LRUCache<string, Buffer>;
  private readonly waiting = new Map<string, Waiter[]>();
  /** Frames asked for and not yet given to a run, by footage. */
  private readonly gathering = new Map<string, Set<number>>();
  /** The last run of the same frames that waits or decodes. */
  private readonly runs = new Map<string, Promise<void>>();

  constructor(
    private readonly kind: PictureKind,
    private readonly blobs: BlobStore,
    private readonly cache: PictureCache,
    private readonly queue: TaskQueue,
    private readonly closing: AbortSignal,
  ) {
    this.recent = new LRUCache({
      maxSize: Math.max(1, kind.recentBytes),
      sizeCalculation: ({ length }) => length,
    });
  }

  /** @throws UserError when the file gives no picture there. */
  async frame(footage: Footage, frame: number): Promise<Buffer> {
    const key = keyOf(footage, frame);
    const kept = this.recent.get(key) ?? (await this.kept(footage, frame));
    // It may have been made while the disk was asked.
    const there = kept ?? this.recent.get(key);
    if (there) {
      this.recent.set(key, there);
      return there;
    }
    return new Promise<Buffer>((resolve, reject) => {
      const waiters = this.waiting.get(key);
      if (waiters) waiters.push({ resolve, reject });
      else this.waiting.set(key, [{ resolve, reject }]);
      this.gather(footage, frame);
    });
  }

  /** One that is there already. */
  kept(footage: Footage, frame: number): Promise<Buffer | null> {
    return this.cache.get(footage.hash, this.kind.folder, frame);
  }

  /** Makes those that are missing; what somebody waits for does not wait for them. */
  async prepare(footage: Footage, frames: readonly number[]): Promise<void> {
    const missing: number[] = [];
    for (const frame of frames) {
      if (!(await this.cache.has(footage.hash, this.kind.folder, frame))) missing.push(frame);
    }
    await this.decode(footage, missing, true);
  }

  private gather(footage: Footage, frame: number): void {
    const gathered = this.gathering.get(footage.hash);
    if (gathered) {
      gathered.add(frame);
      return;
    }
    this.gathering.set(footage.hash, new Set([frame]));
    setTimeout(() => {
      const frames = [...(this.gathering.get(footage.hash) ?? [])].sort((a, b) => a - b);
      this.gathering.delete(footage.hash);
      for (const run of this.kind.runsOf(footage, frames)) void this.decodeInTurn(footage, run);
    }, this.kind.gatherMs);
  }

  /**
   * Runs of the same frames follow each other: what the one before has given by then is not decoded again.
   */
  private decodeInTurn(footage: Footage, frames: readonly number[]): Promise<void> {
    const id = `${footage.hash}/${frames.join()}`;
    const before = this.runs.get(id) ?? Promise.resolve();
    const run = before.then(() => this.runOnce(footage, frames));
    this.runs.set(id, run);
    return run.finally(() => {
      if (this.runs.get(id) === run) this.runs.delete(id);
    });
  }

  /** Never fails: whoever waits for a frame is told why it is not there. */
  private async runOnce(footage: Footage, frames: readonly number[]): Promise<void> {
    const isWaitedFor = (frame: number) => this.waiting.has(keyOf(footage, frame));
    // A run before this one may have given all that was waited for.
    if (!frames.some(isWaitedFor)) return;
    let failure: unknown = null;
    try {
      if (!(await this.blobs.has(footage.hash))) throw fileGone(footage);
      const left = await this.takeShortcuts(footage, frames);
      await this.queue.run(() => this.decode(footage, left, this.kind.background));
    } catch (error) {
      failure = error;
    }
    for (const frame of frames.filter(isWaitedFor)) {
      // Whoever came just after it was given finds it on the disk.
      const given = await this.kept(footage, frame).catch(() => null);
      this.answer(keyOf(footage, frame), (waiter) => {
        if (given) waiter.resolve(given);
        else waiter.reject(failure ?? this.missing(footage, frame));
      });
    }
  }

  private missing({ name }: Footage, frame: number): Error {
    if (this.closing.aborted) {
      return new Problem(503, 'closing', 'The server is being stopped. Start it again.');
    }
    return new UserError(
      'decoder_failed',
      `“${name}” gives no picture for frame ${frame}. Choose another one.`,
    );
  }

  private async takeShortcuts(footage: Footage, frames: readonly number[]): Promise<number[]> {
    const left: number[] = [];
    for (const frame of frames) {
      const key = keyOf(footage, frame);
      // Given meanwhile, by a run that held it beside others.
      const there = this.recent.get(key) ?? (await this.kept(footage, frame));
      const quick = there ?? (await this.kind.shortcut?.(footage, frame));
      if (there) this.answer(key, (waiter) => waiter.resolve(there));
      else if (quick) await this.give(footage, frame, quick);
      else left.push(frame);
    }
    return left;
  }

  private async decode(footage: Footage, frames: readonly number[], background: boolean): Promise<void> {
    const decoded = decodeFrames({
      path: this.blobs.pathOf(footage.hash),
      name: footage.name,
      facts: footage.facts,
      frames,
      size: this.kind.sizeOf(footage),
      format: 'view',
      background,
      signal: this.closing,
    });
    for await (const { frame, data } of decoded) await this.give(footage, frame, Buffer.from(data));
  }

  private async give(footage: Footage, frame: number, data: Buffer): Promise<void> {
    const key = keyOf(footage, frame);
    this.recent.set(key, data);
    this.answer(key, (waiter) => waiter.resolve(data));
    // Whoever asks from now on finds it in memory, and later on the disk.
    await this.cache.put(footage.hash, this.kind.folder, frame, data);
  }

  private answer(key: string, tell: (waiter: Waiter) => void): void {
    const waiters = this.waiting.get(key);
    if (!waiters) return;
    this.waiting.delete(key);
    waiters.forEach(tell);
  }
}

const keyOf = (footage: Footage, frame: number) => `${footage.hash}/${frame}`;
