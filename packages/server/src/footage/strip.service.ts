import type { StripProgress } from '@muted-pond/core/api';
import { sizeWithin } from '@muted-pond/core/pixels';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { type DecodeRequest, decodeFrames } from '../media/index.js';
import { BlobStore, PictureCache } from '../storage/index.js';
import { PondEvents, Turns } from '../work/index.js';
import type { Footage } from './footage.entity.js';

/** Pictures in a strip over the whole take, at most. */
const MOST_PICTURES = 48;
const PICTURE_LONG_SIDE = 192;
/** Key frames within one decoder run of the rough pass. */
const ROUGH_RUN = 12;

/**
 * The strip: equally spaced pictures of the whole take. First roughly, from the nearest key frames, which
 * takes moments also for an hour; then exactly, while one already works.
 */
@Injectable()
export class StripService implements OnApplicationShutdown {
  private readonly log = new Logger('strip');
  private readonly progress = new Map<string, StripProgress>();
  private readonly turns = new Turns(1);
  private readonly closing = new AbortController();

  constructor(
    @Inject(BlobStore) private readonly blobs: BlobStore,
    @Inject(PictureCache) private readonly cache: PictureCache,
    @Inject(PondEvents) private readonly events: PondEvents,
  ) {}

  onApplicationShutdown(): void {
    this.closing.abort();
  }

  progressOf(footage: Footage): StripProgress {
    return this.progress.get(footage.hash) ?? { count: stripFrames(footage).length, coarse: 0, exact: 0 };
  }

  /** The picture at one place of the strip, the best there is so far. */
  async picture(footage: Footage, place: number): Promise<Buffer | null> {
    const exact = await this.cache.get(footage.hash, 'strip', place);
    return exact ?? (await this.cache.get(footage.hash, 'strip-rough', place));
  }

  /** Makes what is missing. A failure is told in the log; what there is by then stays. */
  async prepare(footage: Footage): Promise<void> {
    try {
      await this.make(footage);
    } catch (error) {
      if (!this.closing.signal.aborted) this.log.warn(`Strip of ${footage.name}: ${error}`);
    }
  }

  private async make(footage: Footage): Promise<void> {
    const frames = stripFrames(footage);
    if (this.progress.get(footage.hash)?.exact === frames.length) return;
    const ready = await this.cache.get(footage.hash, 'strip', frames.length - 1);
    if (ready) {
      this.tell(footage, { count: frames.length, coarse: frames.length, exact: frames.length });
      return;
    }
    await this.makeRough(footage, frames);
    await this.turns.run(() => this.makeExact(footage, frames), 'background');
  }

  /** Every place gets the key frame before it; far apart ones are sought one by one. */
  private async makeRough(footage: Footage, frames: readonly number[]): Promise<void> {
    const { keyframes } = footage.facts;
    const nearest = frames.map((frame) => keyframes.findLast((key) => key <= frame) ?? 0);
    const wanted = [...new Set(nearest)];
    const gap = wanted.length > 1 ? footage.facts.ticks.length / wanted.length : 0;
    const run = gap > 40 ? 1 : ROUGH_RUN;
    let coarse = 0;
    for (let at = 0; at < wanted.length; at += run) {
      for await (const { frame, data } of decodeFrames(this.request(footage, wanted.slice(at, at + run)))) {
        const places = nearest.flatMap((key, place) => (key === frame ? [place] : []));
        for (const place of places) await this.cache.put(footage.hash, 'strip-rough', place, data);
        coarse += places.length;
        this.tell(footage, { count: frames.length, coarse, exact: 0 });
      }
    }
  }

  private async makeExact(footage: Footage, frames: readonly number[]): Promise<void> {
    let exact = 0;
    for await (const { data } of decodeFrames({ ...this.request(footage, frames), background: true })) {
      await this.cache.put(footage.hash, 'strip', exact++, data);
      this.tell(footage, { count: frames.length, coarse: frames.length, exact });
    }
  }

  private request(footage: Footage, frames: readonly number[]): DecodeRequest {
    return {
      path: this.blobs.pathOf(footage.hash),
      name: footage.name,
      facts: footage.facts,
      frames,
      size: sizeWithin(footage.facts, PICTURE_LONG_SIDE),
      format: 'jpeg',
      timeLimitMs: 20 * 60_000,
      signal: this.closing.signal,
    };
  }

  private tell(footage: Footage, strip: StripProgress): void {
    this.progress.set(footage.hash, strip);
    this.events.tell({ type: 'footage', footage: footage.hash, strip });
  }
}

/** The frames in the middle of equal parts of the take. */
export function stripFrames(footage: Footage): number[] {
  const total = footage.facts.ticks.length;
  const count = Math.min(MOST_PICTURES, total);
  return Array.from({ length: count }, (_, place) => Math.floor(((place + 0.5) * total) / count));
}
