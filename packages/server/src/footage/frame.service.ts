import { WORKING_LONG_SIDE } from '@muted-pond/core/api';
import { footageKey } from '@muted-pond/core/identity';
import { sizeWithin } from '@muted-pond/core/pixels';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import sharp from 'sharp';
import { BlobStore } from '../blobs/index.js';
import { PictureCache } from '../cache/index.js';
import { SharedJobs, TaskQueue } from '../jobs/index.js';
import type { Footage } from './footage.entity.js';
import { FramePictures } from './frame-pictures.js';

const WORKING = footageKey('frames');
/** Longer side of a picture in the strip, px. */
export const SMALL_LONG_SIDE = 240;
/** Working frames decoded together when one of them is asked for. */
const SEGMENT_FRAMES = 12;
/** Requests for the strip's pictures come together, as it is drawn. */
const GATHER_MS = 30;
/** Footage up to this long is made ready whole, so that scrubbing never waits for the decoder. */
const READY_FRAMES = 900;

/** Frames for the eye: working frames for the stage, and small ones for the strip. */
@Injectable()
export class FrameService implements OnApplicationShutdown {
  private readonly log = new Logger('frames');
  private readonly closing = new AbortController();
  private readonly working: FramePictures;
  private readonly small: FramePictures;

  constructor(
    @Inject(BlobStore) blobs: BlobStore,
    @Inject(PictureCache) cache: PictureCache,
    @Inject(SharedJobs) private readonly jobs: SharedJobs,
  ) {
    const { signal } = this.closing;
    this.working = new FramePictures(
      {
        folder: WORKING,
        sizeOf: ({ facts }) => sizeWithin(facts, WORKING_LONG_SIDE),
        runsOf: ({ facts }, frames) => {
          const segments = new Set(frames.map((frame) => Math.floor(frame / SEGMENT_FRAMES)));
          return [...segments].map((segment) => {
            const from = segment * SEGMENT_FRAMES;
            return spaced(from, Math.min(SEGMENT_FRAMES, facts.ticks.length - from));
          });
        },
        gatherMs: 0,
        background: false,
        recentBytes: 192 * 1024 ** 2,
      },
      blobs,
      cache,
      new TaskQueue(2),
      signal,
    );
    this.small = new FramePictures(
      {
        folder: footageKey('small'),
        sizeOf: ({ facts }) => sizeWithin(facts, SMALL_LONG_SIDE),
        runsOf: ({ facts }, frames) => {
          // Frames after the same key frame are reached by decoding the same ones.
          const keyframes = facts.reader === 'ffmpeg' ? facts.keyframes : [0];
          const runs = new Map<number, number[]>();
          for (const frame of frames) {
            const key = keyframes.findLast((candidate) => candidate <= frame) ?? 0;
            runs.set(key, [...(runs.get(key) ?? []), frame]);
          }
          return [...runs.values()];
        },
        gatherMs: GATHER_MS,
        background: true,
        recentBytes: 16 * 1024 ** 2,
        shortcut: async (footage, frame) => {
          const working = await this.working.kept(footage, frame);
          return working && shrink(working);
        },
      },
      blobs,
      cache,
      new TaskQueue(1),
      signal,
    );
  }

  onApplicationShutdown(): void {
    this.closing.abort();
  }

  /** A working frame. @throws UserError when the file gives no picture there. */
  frame(footage: Footage, frame: number): Promise<Buffer> {
    return this.working.frame(footage, frame);
  }

  smallFrame(footage: Footage, frame: number): Promise<Buffer> {
    return this.small.frame(footage, frame);
  }

  /** Makes all working frames of short footage, in the background. */
  async prepare(footage: Footage): Promise<void> {
    const { hash, name, facts } = footage;
    const total = facts.ticks.length;
    if (total > READY_FRAMES) return;
    await this.jobs.prepare(
      {
        ...{ key: `${hash}/${WORKING}`, owner: hash, queue: 'decoder', priority: 'background' },
        run: () => this.working.prepare(footage, spaced(0, total)),
      },
      (error) => this.log.warn(`Frames of ${name}: ${error}`),
    );
  }
}

function spaced(from: number, count: number): number[] {
  return Array.from({ length: count }, (_, i) => from + i);
}

/** A working frame made small: quicker than decoding, and as exact. */
function shrink(working: Buffer): Promise<Buffer> {
  const picture = sharp(working).resize(SMALL_LONG_SIDE, SMALL_LONG_SIDE, {
    fit: 'inside',
    fastShrinkOnLoad: true,
  });
  return working[0] === 0xff
    ? picture.jpeg({ quality: 80 }).toBuffer()
    : picture.webp({ quality: 80 }).toBuffer();
}
