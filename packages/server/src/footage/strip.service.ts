import type { StripProgress } from '@muted-pond/core/api';
import { footageKey } from '@muted-pond/core/identity';
import { sizeWithin } from '@muted-pond/core/pixels';
import { Inject, Injectable, Logger } from '@nestjs/common';
import { BlobStore } from '../blobs/index.js';
import { PictureCache } from '../cache/index.js';
import { PondEvents, SharedJobs } from '../jobs/index.js';
import { type DecodeRequest, decodeFrames } from '../media/index.js';
import type { Footage } from './footage.entity.js';
import { SMALL_LONG_SIDE } from './frame.service.js';

const STRIP = footageKey('strip');
/** Pictures in a strip over the whole take, at most. */
const MOST_PICTURES = 48;
/** Key frames within one decoder run. */
const ONE_RUN = 12;

/**
 * The strip's first look: equally spaced places of the whole take, each with the key frame nearest before it,
 * which takes moments also for an hour. The frames themselves follow one by one where they are looked at.
 */
@Injectable()
export class StripService {
  private readonly log = new Logger('strip');
  private readonly progress = new Map<string, StripProgress>();

  constructor(
    @Inject(BlobStore) private readonly blobs: BlobStore,
    @Inject(PictureCache) private readonly cache: PictureCache,
    @Inject(PondEvents) private readonly events: PondEvents,
    @Inject(SharedJobs) private readonly jobs: SharedJobs,
  ) {}

  progressOf(footage: Footage): StripProgress {
    const known = this.progress.get(footage.hash);
    if (known) return known;
    const count = stripFrames(footage).length;
    // Made before the server was last started: the last picture is there, and so are those before it.
    return { count, made: this.cache.hasNow(footage.hash, STRIP, count - 1) ? count : 0 };
  }

  picture(footage: Footage, place: number): Promise<Buffer | null> {
    return this.cache.get(footage.hash, STRIP, place);
  }

  /** Makes what is missing, once at a time. A failure is told in the log; what there is by then stays. */
  prepare(footage: Footage): Promise<void> {
    const { hash, name } = footage;
    return this.jobs.prepare(
      {
        ...{ key: `${hash}/${STRIP}`, owner: hash, queue: 'decoder' },
        run: ({ signal }) => this.make(footage, signal),
      },
      (error) => this.log.warn(`Strip of ${name}: ${error}`),
    );
  }

  private async make(footage: Footage, signal: AbortSignal): Promise<void> {
    const frames = stripFrames(footage);
    const count = frames.length;
    const { facts } = footage;
    const keyframes = facts.reader === 'ffmpeg' ? facts.keyframes : frames;
    const nearest = frames.map((frame) => keyframes.findLast((key) => key <= frame) ?? 0);
    const missing = await this.missing(footage, count);
    let made = missing[0] ?? count;
    this.tell(footage, { count, made });
    const wanted = [...new Set(missing.map((place) => nearest[place]))];
    const gap = wanted.length > 1 ? facts.ticks.length / wanted.length : 0;
    // Far apart ones are sought one by one.
    const run = gap > 40 ? 1 : ONE_RUN;
    for (let at = 0; at < wanted.length; at += run) {
      const request = this.request(footage, wanted.slice(at, at + run), signal);
      for await (const { frame, data } of decodeFrames(request)) {
        const places = nearest.flatMap((key, place) => (key === frame ? [place] : []));
        for (const place of places) await this.cache.put(footage.hash, STRIP, place, data);
        made = (places.at(-1) ?? made) + 1;
        this.tell(footage, { count, made });
      }
    }
    this.tell(footage, { count, made: count });
  }

  /** Places whose picture is not there, in their order. */
  private async missing(footage: Footage, count: number): Promise<number[]> {
    const missing: number[] = [];
    for (let place = 0; place < count; place++) {
      if (!(await this.cache.has(footage.hash, STRIP, place))) missing.push(place);
    }
    return missing;
  }

  private request(footage: Footage, frames: readonly number[], signal: AbortSignal): DecodeRequest {
    return {
      path: this.blobs.pathOf(footage.hash),
      name: footage.name,
      facts: footage.facts,
      frames,
      size: sizeWithin(footage.facts, SMALL_LONG_SIDE),
      format: 'view',
      timeLimitMs: 20 * 60_000,
      signal,
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
