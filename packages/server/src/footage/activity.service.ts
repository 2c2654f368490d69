import { footageKey } from '@muted-pond/core/identity';
import { measureActivity, SIGNATURE_BYTES } from '@muted-pond/core/motion';
import { Inject, Injectable, Logger } from '@nestjs/common';
import { BlobStore } from '../blobs/index.js';
import { PictureCache } from '../cache/index.js';
import { PondEvents, type Priority, SharedJobs, type SharedTurn } from '../jobs/index.js';
import { readSmall } from '../media/index.js';
import { fileGone } from './file-gone.js';
import type { Footage } from './footage.entity.js';
import { LOOKS_PART, LooksService } from './looks.service.js';

const ACTIVITY = footageKey('activity');
const SIGNATURES = footageKey('signatures');
/** Numbers kept of a frame: moves, shift across and down, light. */
const FIGURES = 4;
/** So long a failure is told to whoever asks; then the footage is read anew. */
const FAILURE_KEPT_MS = 30_000;
/** Footage of more frames has its looks made where they are asked for: they take some 20 kB a frame. */
const MOST_LOOKS = 9000;
/** Frames between two words on how far it is. */
const TELL_EVERY = 400;

/**
 * Signatures of every frame, and what happens from each to the next; made once in the background, kept in the
 * cache.
 */
@Injectable()
export class ActivityService {
  private readonly log = new Logger('activity');
  /** Activity of footage that is being gone through, as far as it is known. */
  private readonly growing = new Map<string, Float32Array>();
  private readonly failures = new Map<string, { readonly error: unknown; readonly at: number }>();

  constructor(
    @Inject(BlobStore) private readonly blobs: BlobStore,
    @Inject(PictureCache) private readonly cache: PictureCache,
    @Inject(PondEvents) private readonly events: PondEvents,
    @Inject(SharedJobs) private readonly jobs: SharedJobs,
    @Inject(LooksService) private readonly looks: LooksService,
  ) {}

  /**
   * Four 32-bit floats a frame, little-endian, for the frames known so far.
   *
   * @throws what went wrong when the footage was last read.
   */
  async activity(footage: Footage): Promise<Buffer> {
    const growing = this.growing.get(footage.hash);
    if (growing) return Buffer.from(growing.buffer, growing.byteOffset, growing.byteLength);
    const whole = await this.cache.get(footage.hash, ACTIVITY, 0);
    if (!whole) this.prepareUnlessFailed(footage);
    return whole ?? Buffer.alloc(0);
  }

  /**
   * Signatures of the frames from one to another, exclusive; nothing until all of them are known.
   * @throws as `activity` does.
   */
  async signatures(footage: Footage, from: number, to: number): Promise<Buffer> {
    const bytes = [
      from * SIGNATURE_BYTES,
      Math.min(to, footage.facts.ticks.length) * SIGNATURE_BYTES,
    ] as const;
    const part = await this.cache.getPart(footage.hash, SIGNATURES, 0, ...bytes);
    if (!part) this.prepareUnlessFailed(footage);
    return part ?? Buffer.alloc(0);
  }

  private prepareUnlessFailed(footage: Footage): void {
    const failure = this.failures.get(footage.hash);
    if (failure && performance.now() - failure.at < FAILURE_KEPT_MS) throw failure.error;
    void this.prepare(footage, 'hand');
  }

  /**
   * Goes through the footage, unless that was done before. A failure is told in the log, and to whoever asks.
   */
  async prepare(footage: Footage, priority: Priority = 'background'): Promise<void> {
    const { hash, facts, name } = footage;
    if (facts.ticks.length < 2) return;
    await this.jobs.prepare(
      {
        ...{ key: `${hash}/${ACTIVITY}`, owner: hash, queue: 'decoder', priority },
        run: async (turn) => {
          if (await this.isKnown(footage)) return;
          if (!(await this.blobs.has(hash))) throw fileGone(footage);
          this.failures.delete(hash);
          this.growing.set(hash, new Float32Array(0));
          await this.goThrough(footage, turn).finally(() => this.growing.delete(hash));
        },
      },
      (error) => {
        this.failures.set(hash, { error, at: performance.now() });
        this.log.warn(`Activity of ${name}: ${error}`);
      },
    );
  }

  private async isKnown({ hash }: Footage): Promise<boolean> {
    return (await this.cache.has(hash, ACTIVITY, 0)) && (await this.cache.has(hash, SIGNATURES, 0));
  }

  private async goThrough(footage: Footage, { signal, priority }: SharedTurn): Promise<void> {
    const { facts, hash } = footage;
    const total = facts.ticks.length;
    const signatures = new Uint8Array(total * SIGNATURE_BYTES);
    const figures = new Float32Array(total * FIGURES);
    const signatureOf = (frame: number) =>
      signatures.subarray(frame * SIGNATURE_BYTES, (frame + 1) * SIGNATURE_BYTES);
    const read = readSmall({
      path: this.blobs.pathOf(hash),
      name: footage.name,
      facts,
      frames: Array.from({ length: total }, (_, frame) => frame),
      background: priority === 'background',
      timeLimitMs: 60 * 60_000,
      signal,
    });
    const parts = total <= MOST_LOOKS ? this.looksParts(footage) : null;
    for await (const { frame, signature, look } of read) {
      signatures.set(signature, frame * SIGNATURE_BYTES);
      await parts?.(frame, look());
      if (frame > 0) {
        const { moves, shiftX, shiftY, light } = measureActivity(
          signatureOf(frame - 1),
          signatureOf(frame),
          facts,
        );
        figures.set([moves, shiftX, shiftY, light], frame * FIGURES);
      }
      if ((frame + 1) % TELL_EVERY === 0) this.tell(footage, figures.subarray(0, (frame + 1) * FIGURES));
    }
    if (signal.aborted) return;
    await this.cache.put(hash, SIGNATURES, 0, signatures);
    await this.cache.put(hash, ACTIVITY, 0, new Uint8Array(figures.buffer));
    this.tell(footage, figures);
  }

  /** Keeps looks part by part, as they come in the order of the frames. */
  private looksParts(footage: Footage): (frame: number, look: Uint8Array) => Promise<void> {
    const last = footage.facts.ticks.length - 1;
    let part: Uint8Array[] = [];
    return async (frame, look) => {
      part.push(look);
      if (frame < last && (frame + 1) % LOOKS_PART !== 0) return;
      await this.looks.keep(footage, Math.floor(frame / LOOKS_PART), Buffer.concat(part));
      part = [];
    };
  }

  private tell(footage: Footage, known: Float32Array): void {
    this.growing.set(footage.hash, known);
    this.events.tell({ type: 'activity', footage: footage.hash, frames: known.length / FIGURES });
  }
}
