import type { FootageView, MotionView } from '@muted-pond/core/api';
import { UserError } from '@muted-pond/core/errors';
import { sizeWithin } from '@muted-pond/core/pixels';
import { Inject, Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import pLimit from 'p-limit';
import { IsNull, type Repository } from 'typeorm';
import { BlobStore, type IncomingFile } from '../blobs/index.js';
import { inspectFile } from '../inspection/index.js';
import type { MakingFile } from '../making/index.js';
import { decodeFrames, encodePng, type MediaFacts } from '../media/index.js';
import { notFound, Problem } from '../problems/index.js';
import { SETTINGS, type Settings } from '../settings.js';
import { ActivityService } from './activity.service.js';
import { fileGone } from './file-gone.js';
import { Footage } from './footage.entity.js';
import { footageView } from './footage-view.js';
import { FrameService } from './frame.service.js';
import { LooksService } from './looks.service.js';
import { MotionService } from './motion.service.js';
import { StripService } from './strip.service.js';

/** Looks that are given at once. */
const MOST_LOOKS = 512;

@Injectable()
export class FootageService {
  /** Footage whose strip and frames are being made or were made since the start. */
  private readonly preparing = new Set<string>();
  /** Those of them that are done. */
  private readonly ready = new Set<string>();
  /** Frames in full size take much memory: one at a time. */
  private readonly limitFullFrames = pLimit(1);
  /** A file that is looked at starts processes of its own. */
  private readonly limitInspections = pLimit(2);

  constructor(
    @InjectRepository(Footage) private readonly footage: Repository<Footage>,
    @Inject(BlobStore) private readonly blobs: BlobStore,
    @Inject(StripService) private readonly strips: StripService,
    @Inject(FrameService) private readonly frames: FrameService,
    @Inject(ActivityService) private readonly activities: ActivityService,
    @Inject(LooksService) private readonly looksOf: LooksService,
    @Inject(MotionService) private readonly motions: MotionService,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  async list(): Promise<FootageView[]> {
    const rows = await this.footage.find({ where: { deletedAt: IsNull() }, order: { addedAt: 'DESC' } });
    return Promise.all(rows.map((row) => this.view(row)));
  }

  async get(hash: string): Promise<Footage> {
    const row = await this.footage.findOneBy({ hash });
    if (!row) throw notFound('footage');
    return row;
  }

  /** The file as making something from it needs it. @throws Problem when it is gone from the disk. */
  async makingFile(footage: Footage): Promise<MakingFile> {
    const { hash, name, facts } = footage;
    if (!(await this.blobs.has(hash))) throw fileGone(footage);
    return { hash, name, facts, path: this.blobs.pathOf(hash) };
  }

  async view(row: Footage): Promise<FootageView> {
    const onDisk = await this.blobs.size(row.hash);
    const problem = onDisk === null ? 'missing' : onDisk === row.bytes ? null : 'damaged';
    return footageView(row, this.strips.progressOf(row), this.ready.has(row.hash), problem);
  }

  /**
   * Takes a file in: streamed to disk and hashed, looked at, its first frame decoded, then kept. The same
   * file twice is kept once. Whatever is wrong with it, nothing of it stays.
   */
  async receive(stream: NodeJS.ReadableStream, name: string): Promise<FootageView> {
    const incoming = await this.blobs.receive(stream, name, this.settings.mostUploadBytes);
    return this.view(await this.take(incoming, name));
  }

  /**
   * The same for a file that was brought in part by part, and now lies complete.
   * @param onHashed is told its hash before it leaves its place.
   * @returns its hash.
   */
  async receiveFile(path: string, name: string, onHashed: (hash: string) => Promise<void>): Promise<string> {
    const incoming = await this.blobs.takeIn(path);
    await onHashed(incoming.hash);
    return (await this.take(incoming, name)).hash;
  }

  /** Whether a file is in the library, or can be put into it since it is kept. */
  async ensure(hash: string, name: string): Promise<boolean> {
    if (await this.footage.findOneBy({ hash })) return true;
    return (
      (await this.blobs.has(hash)) &&
      this.addKept(hash, name, await inspectFile(this.blobs.pathOf(hash), name))
    );
  }

  /** Writes a kept file down in the library. */
  private async addKept(hash: string, name: string, facts: MediaFacts): Promise<boolean> {
    const bytes = (await this.blobs.size(hash)) ?? 0;
    const addedAt = new Date().toISOString();
    this.prepare(await this.footage.save({ hash, name, bytes, facts, addedAt, deletedAt: null }));
    return true;
  }

  async viewOf(hash: string): Promise<FootageView> {
    return this.view(await this.get(hash));
  }

  private async take(incoming: IncomingFile, name: string): Promise<Footage> {
    try {
      const known = await this.footage.findOneBy({ hash: incoming.hash });
      if (known) {
        // What was lost or damaged is mended by the same file; else one copy is enough.
        if ((await this.blobs.size(known.hash)) === known.bytes) await incoming.discard();
        else await incoming.keep();
        this.preparing.delete(known.hash);
        if (known.deletedAt) await this.footage.update(known.hash, { deletedAt: null });
        this.prepare(known);
        return known;
      }
      const facts = await this.limitInspections(() => inspectFile(incoming.path, name));
      await incoming.keep();
      const row = await this.footage.save({
        hash: incoming.hash,
        name,
        bytes: incoming.bytes,
        facts,
        addedAt: new Date().toISOString(),
        deletedAt: null,
      });
      this.prepare(row);
      return row;
    } catch (error) {
      await incoming.discard();
      throw error;
    }
  }

  /**
   * Puts a kept file that no row knows back into the library. Masks, which are grey pictures, are left alone.
   * @returns whether it was taken.
   */
  async adopt(hash: string): Promise<boolean> {
    if (await this.footage.findOneBy({ hash })) return false;
    const path = this.blobs.pathOf(hash);
    const name = `found ${hash.slice(0, 8)}`;
    try {
      const facts = await inspectFile(path, name);
      if (facts.kind === 'picture' && (await isGrey(path, name, facts))) return false;
      return await this.addKept(hash, name, facts);
    } catch (error) {
      if (error instanceof UserError) return false;
      throw error;
    }
  }

  /** Makes strip and working frames in the background, once. */
  prepare(row: Footage): void {
    if (this.preparing.has(row.hash)) return;
    this.preparing.add(row.hash);
    void this.strips
      .prepare(row)
      .then(() => this.frames.prepare(row))
      .then(() => this.ready.add(row.hash));
    void this.activities.prepare(row);
  }

  async strip(hash: string, place: number): Promise<Buffer> {
    const row = await this.get(hash);
    const picture = await this.strips.picture(row, place);
    if (picture) return picture;
    // The cache may have been thrown away since it was made; events tell when it is there again.
    void this.strips.prepare(row);
    throw new Problem(404, 'not_yet', 'This picture of the strip is not made yet.');
  }

  async frame(hash: string, frame: number): Promise<Buffer> {
    return this.frames.frame(await this.rowWithFrame(hash, frame), frame);
  }

  async smallFrame(hash: string, frame: number): Promise<Buffer> {
    return this.frames.smallFrame(await this.rowWithFrame(hash, frame), frame);
  }

  /** One frame in the upright footage's own size, PNG. */
  async fullFrame(hash: string, frame: number): Promise<Buffer> {
    const row = await this.rowWithFrame(hash, frame);
    return this.limitFullFrames(() => this.makeFullFrame(row, frame));
  }

  private async makeFullFrame(row: Footage, frame: number): Promise<Buffer> {
    const { facts, name, hash } = row;
    if (!(await this.blobs.has(hash))) throw fileGone(row);
    const request = {
      path: this.blobs.pathOf(hash),
      name,
      facts,
      frames: [frame],
      size: facts,
      format: 'rgba' as const,
    };
    for await (const { data } of decodeFrames(request)) {
      return encodePng(data, facts, facts.hasAlpha);
    }
    throw notFound('frame');
  }

  /** Where it moves between two frames, the end exclusive. */
  async motion(hash: string, from: number, to: number): Promise<MotionView> {
    const footage = await this.get(hash);
    const frames = footage.facts.ticks.length;
    if (from < 0 || to > frames || to - from < 2) {
      throw new Problem(
        422,
        'out_of_range',
        `What moves needs two frames at least, from 0 to ${frames}; ${from} to ${to} were asked for.`,
      );
    }
    return this.motions.motion(footage, from, to);
  }

  /** Signatures of frames from one to another, exclusive. */
  async signatures(hash: string, from: number, to: number): Promise<Buffer> {
    return this.activities.signatures(await this.get(hash), from, to);
  }

  /** Looks of frames from one to another, exclusive. */
  async looks(hash: string, from: number, to: number): Promise<Buffer> {
    const footage = await this.get(hash);
    const frames = footage.facts.ticks.length;
    if (from < 0 || to > frames || to <= from || to - from > MOST_LOOKS) {
      throw new Problem(
        422,
        'out_of_range',
        `Looks are given of 1 to ${MOST_LOOKS} frames, from 0 to ${frames}; ${from} to ${to} were asked for.`,
      );
    }
    return this.looksOf.looks(footage, from, to);
  }

  async activity(hash: string): Promise<Buffer> {
    return this.activities.activity(await this.get(hash));
  }

  /** Takes a file out of the library; the pieces made from it keep it, and it can be put back. */
  async delete(hash: string): Promise<void> {
    await this.get(hash);
    await this.footage.update(hash, { deletedAt: new Date().toISOString() });
  }

  async restore(hash: string): Promise<FootageView> {
    await this.footage.update(hash, { deletedAt: null });
    return this.view(await this.get(hash));
  }

  private async rowWithFrame(hash: string, frame: number): Promise<Footage> {
    const row = await this.get(hash);
    const last = row.facts.ticks.length - 1;
    if (frame <= last) return row;
    throw new Problem(
      404,
      'no_such_frame',
      `“${row.name}” has frames 0 to ${last}; ${frame} is none of them.`,
    );
  }
}

/** Whether every pixel of a picture, seen small, has no colour. */
async function isGrey(path: string, name: string, facts: MediaFacts): Promise<boolean> {
  const request = { path, name, facts, frames: [0], size: sizeWithin(facts, 64), format: 'rgba' as const };
  for await (const { data } of decodeFrames(request)) {
    for (let i = 0; i < data.length; i += 4) {
      if (data[i] !== data[i + 1] || data[i] !== data[i + 2]) return false;
    }
  }
  return true;
}
